// A form being designed: the draft here, how it would look and read from the server, and keeping it.
import { computed, ref, watch, type Ref } from 'vue'
import { api, Problem, told } from '@/api/client'
import type { Field, Form, FormDesign, Question } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'
import { touches, useChanges } from '@/features/tracker/tracker'

/** How long after the last change the draft is looked at, in milliseconds. */
const SETTLED = 250

export interface FormDraft {
  form: Form
  confirmation: string
}

const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/** With nothing where nothing was said, so that lists of choices show what is chosen. */
function whole(draft: FormDraft): FormDraft {
  draft.form.copy ??= null
  draft.form.appearance ??= {}
  draft.form.limits ??= {}
  draft.form.places ??= []
  for (const question of draft.form.questions) {
    question.shows ??= null
    if (question.lines) question.lines.total ??= null
  }
  return draft
}

export function useForm(at: Ref<{ tracker: number; form: number }>) {
  const parts = useParts(() => at.value.tracker)
  const kept = ref<FormDesign>()
  const draft = ref<FormDraft>()
  /** What the draft would be: the questions as respondents see them, the rules in words. */
  const seen = ref<FormDesign>()
  const { trouble, problem, busy, attempt, newest } = useDoing()
  const faults = ref<Record<string, string>>({})
  const params = computed(() => ({ path: at.value }))
  const changed = computed(() => !!kept.value && JSON.stringify(draftOf(kept.value)) !== JSON.stringify(draft.value))

  const draftOf = (answer: FormDesign): FormDraft => whole(copyOf({ form: answer.form, confirmation: answer.confirmation }))

  async function read() {
    const fresh = await newest(() => told(api.GET('/api/trackers/{tracker}/forms/{form}', { params: params.value })))
    if (!fresh) return
    const untouched = !changed.value
    kept.value = fresh
    // Where it hangs is said beside the design, and kept at once.
    if (draft.value) draft.value.form.places = copyOf(fresh.form.places ?? [])
    if (untouched || !draft.value) {
      draft.value = draftOf(fresh)
      seen.value = fresh
    }
  }
  watch(at, () => ((kept.value = draft.value = undefined), void read()), { immediate: true })
  useChanges(
    () => void read(),
    (heard) => touches(kept.value && [kept.value.form.table])(heard),
  )

  let round = 0
  let timer: ReturnType<typeof setTimeout> | undefined
  async function look() {
    if (!draft.value) return
    const mine = ++round
    try {
      const fresh = await parts.look({ form: draft.value }, at.value.form)
      if (mine !== round) return
      if (fresh?.view && 'form' in fresh.view) seen.value = fresh.view.form
      mended(fresh?.faults ?? [])
    } catch (error) {
      if (mine === round && error instanceof Problem) mended(error.faults)
    }
  }
  watch(
    draft,
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void look(), SETTLED)
    },
    { deep: true },
  )

  /** Takes out what was said and holds no more. What is new is said when it is kept, not while one types. */
  function mended(now: { pointer: string }[]) {
    faults.value = Object.fromEntries(Object.entries(faults.value).filter(([at]) => now.some((fault) => fault.pointer === at)))
    if (!Object.keys(faults.value).length) trouble.value = ''
  }

  async function keep(open?: boolean): Promise<boolean> {
    if (!draft.value) return false
    faults.value = {}
    const next = { ...draft.value, form: { ...draft.value.form, open: open ?? draft.value.form.open } }
    await attempt(() => parts.save('form', at.value.form, { form: next }))
    for (const { pointer, message } of problem.value?.faults ?? [])
      faults.value[pointer] = [faults.value[pointer], message].filter(Boolean).join(' ')
    if (trouble.value) return false
    kept.value = undefined
    draft.value = undefined
    await read()
    return true
  }

  return { kept, draft, seen, trouble, faults, busy, changed, keep, read }
}

/** What is wrong at a place of a form or below it. */
export function faultsAt(faults: Record<string, string>, place: string): string {
  const under = Object.entries(faults).filter(([at]) => at === place || at.startsWith(`${place}/`))
  return under.map(([, message]) => message).join(' ')
}

/** A field, asked in its own words. */
export function questionOf(field: Field): Question {
  return {
    field: field.id,
    label: field.name,
    help: field.help ?? '',
    required: field.required,
    hidden: false,
    shown: { condition: { all: [] } },
    offers: { all: [] },
  }
}

/** A link that the other table holds: it is asked as lines. */
export const isLines = (field: Field) => field.kind.type === 'link' && !field.kind.holds

/** An address with parameters. */
export function withParameters(address: string, parameters: { name: string; value: string }[]): string {
  const query = new URLSearchParams(parameters.filter((p) => p.name).map((p) => [p.name, p.value])).toString()
  return query ? `${address}?${query}` : address
}
