// Words looked for as one types: asked of the server once one pauses, and read again when something that was found is changed.
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { Discovery, FoundIn, Query } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useChanges } from '@/features/tracker/tracker'

/** So long one may pause between letters, in ms. */
const PAUSE = 120
/** Lines of one table that is looked into alone. */
const MANY = 100

interface Options {
  /** The tracker; none: all that one may open. */
  tracker: Ref<number | undefined>
  words: Ref<string>
  /** The table that is looked into alone. */
  only: Ref<number | undefined>
  /** The person whose records alone are looked for. */
  person: Ref<number | undefined>
  /** The view from which one looks. */
  from: () => { table: number; query: Query } | undefined
}

export function useDiscovery({ tracker, words, only, person, from }: Options) {
  const found = shallowRef<Discovery>()
  const elsewhere = shallowRef<FoundIn[]>()
  /** Whether other trackers are looked into, too. */
  const everywhere = ref(false)
  const { newest, trouble, busy } = useDoing()
  const others = useDoing()

  async function askElsewhere() {
    const body = { text: words.value, person: person.value ?? null, beside: tracker.value ?? null }
    elsewhere.value = (await others.newest(() => told(api.POST('/api/find', { body })))) ?? elsewhere.value
  }
  async function ask() {
    if (!words.value.trim()) {
      found.value = undefined
      elsewhere.value = undefined
      return
    }
    if (everywhere.value || tracker.value === undefined) void askElsewhere()
    else elsewhere.value = undefined
    if (tracker.value === undefined) return
    const params = { path: { tracker: tracker.value } }
    const [table, whose] = [only.value ?? null, person.value ?? null]
    const body = { text: words.value, table, person: whose, from: from() ?? null, lines: table ? MANY : null }
    const answer = await newest(() => told(api.POST('/api/trackers/{tracker}/find', { params, body })))
    if (!answer) return
    found.value = answer
    foundOf = body.text
  }
  /** Of which words what is shown was found. */
  let foundOf = ''
  /** Whoever is quicker than the answer goes on with what they typed, and not with what was found before. */
  async function upToDate() {
    if (tracker.value === undefined || foundOf === words.value) return
    clearTimeout(pause)
    await ask()
  }

  let pause: ReturnType<typeof setTimeout> | undefined
  watch([words, only, person, tracker], () => {
    clearTimeout(pause)
    pause = setTimeout(() => void ask(), found.value || words.value.length > 1 ? PAUSE : 0)
  }, { immediate: true }) // prettier-ignore
  useChanges(() => void ask())

  async function lookEverywhere() {
    everywhere.value = true
    await askElsewhere()
  }
  return {
    found,
    elsewhere,
    everywhere,
    lookEverywhere,
    ask,
    upToDate,
    busy,
    trouble: computed(() => trouble.value || others.trouble.value),
  }
}
