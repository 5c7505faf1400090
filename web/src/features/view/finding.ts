// Words looked for among what a view shows: where they stand, and which of the places one is at. Rows out of sight are found too,
// which the browser's own looking can't do.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Hit, Hits } from '@/api/types'
import { useDoing } from '@/app/asking'
import { touches, useChanges } from '@/features/tracker/tracker'
import type { Shown } from './window'

interface Options {
  tracker: () => number
  table: () => number
  window: () => Shown
  /** Goes to a cell. */
  go: (hit: Hit) => void
}

/** So long one may pause between letters, in ms. */
const PAUSE = 180

export function useFinding({ tracker, table, window, go }: Options) {
  const open = ref(false)
  const text = ref('')
  /** The field that is looked into; nothing: all that are shown. */
  const field = ref<number | null>(null)
  const found = shallowRef<Hits>()
  /** Which of the hits one is at. */
  const at = ref<number>()
  const { newest, trouble } = useDoing()

  async function ask() {
    if (!text.value.trim()) {
      found.value = undefined
      return
    }
    const path = { tracker: tracker(), table: table() }
    const body = { ...window().asked(), text: text.value, fields: field.value === null ? [] : [field.value] }
    const asked = api.POST('/api/trackers/{tracker}/tables/{table}/hits', { params: { path }, body })
    found.value = (await newest(() => told(asked))) ?? found.value
  }
  let pause: ReturnType<typeof setTimeout> | undefined
  watch([text, field], () => {
    at.value = undefined
    clearTimeout(pause)
    pause = setTimeout(() => void ask(), PAUSE)
  })
  // Another view, or another state of it, holds the words elsewhere.
  watch(
    () => JSON.stringify([table(), window().asked().query]),
    () => open.value && void ask(),
  )
  useChanges(
    () => open.value && void ask(),
    (heard) => touches(window().answer.value?.of)(heard),
  )

  const hits = computed(() => found.value?.hits ?? [])
  const marked = computed(() => new Set(open.value ? hits.value.map((hit) => `${hit.record} ${hit.field}`) : []))
  const isHit = (record: number, of: number) => marked.value.has(`${record} ${of}`)
  const says = computed(() => {
    if (!found.value || !text.value.trim()) return ''
    const { count, says: all } = found.value
    return count && at.value !== undefined ? `${at.value + 1} of ${all}` : all
  })

  function step(by: 1 | -1) {
    const all = hits.value.length
    if (!all) return
    at.value = at.value === undefined ? (by > 0 ? 0 : all - 1) : (at.value + by + all) % all
    go(hits.value[at.value]!)
  }
  function begin(of: number | null = null) {
    open.value = true
    field.value = of
  }
  function close() {
    open.value = false
    at.value = undefined
  }

  return { open, text, field, says, trouble, isHit, step, begin, close, count: computed(() => hits.value.length) }
}

export type Finding = ReturnType<typeof useFinding>
