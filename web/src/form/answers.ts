// The answers to a form while they are typed: kept in the browser until sent, so that a reload or a lost line loses none.
import { reactive, ref, watch } from 'vue'
import { Problem, saying, send } from '@/api/client'
import type { FormView, Input, RecordName } from '@/api/types'

export interface Answer {
  text: string
  choice?: number
  links: RecordName[]
  files: File[]
}

const blank = (): Answer => ({ text: '', links: [], files: [] })

export function useAnswers(link: string, form: FormView) {
  const place = `westerfall form ${link}`
  const kept = JSON.parse(localStorage.getItem(place) ?? '{}') as { key?: string; answers?: Record<number, Omit<Answer, 'files'>> }
  // One key for an opened form: sent twice, it is one record.
  let key = kept.key ?? crypto.randomUUID()
  const answers = reactive<Record<number, Answer>>({})
  for (const question of form.questions) answers[question.field] = { ...blank(), ...kept.answers?.[question.field], files: [] }

  const state = ref<'open' | 'sending' | 'sent'>('open')
  const trouble = ref('')
  const faults = ref<Record<number, string>>({})
  const confirmation = ref('')

  watch(answers, () => {
    if (state.value !== 'open') return
    const texts = Object.fromEntries(Object.entries(answers).map(([field, { files: _files, ...rest }]) => [field, rest]))
    try {
      localStorage.setItem(place, JSON.stringify({ key, answers: texts }))
    } catch {
      // A full or forbidden store only means that a reload loses what was typed.
    }
  })

  function inputs(): Record<number, Input> {
    const all: Record<number, Input> = {}
    for (const { field, answer } of form.questions) {
      const given = answers[field]!
      if (answer.type === 'choice') {
        if (given.choice !== undefined) all[field] = { value: { choice: given.choice } }
      } else if (answer.type === 'link') {
        if (given.links.length) all[field] = { value: { links: given.links.map((l) => l.id) } }
      } else if (answer.type !== 'files' && given.text.trim()) all[field] = { text: given.text }
    }
    return all
  }

  async function submit() {
    if (state.value === 'sending') return
    state.value = 'sending'
    trouble.value = ''
    faults.value = {}
    const body = new FormData()
    body.append('answers', JSON.stringify(inputs()))
    for (const { field } of form.questions) for (const file of answers[field]!.files) body.append(`file-${field}`, file)
    try {
      const done = await send<{ confirmation: string }>(`/api/public/forms/${encodeURIComponent(link)}`, body, key)
      confirmation.value = done.confirmation
      state.value = 'sent'
      localStorage.removeItem(place)
    } catch (error) {
      state.value = 'open'
      if (!(error instanceof Problem)) return void (trouble.value = saying(error))
      for (const fault of error.faults) {
        const field = Number(/^\/answers\/(\d+)/.exec(fault.pointer)?.[1])
        if (field) faults.value[field] = fault.message
      }
      const count = Object.keys(faults.value).length
      trouble.value = count ? `Nothing was sent yet: ${count === 1 ? 'one answer needs' : `${count} answers need`} another look.` : error.message
    }
  }

  /** Begins a new answer. */
  function again() {
    key = crypto.randomUUID()
    for (const field of Object.keys(answers)) answers[Number(field)] = blank()
    state.value = 'open'
  }

  return { answers, state, trouble, faults, confirmation, submit, again }
}
