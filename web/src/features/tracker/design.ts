// A part of a tracker on the way from one state to another: as it would stand, what that would do, and what is wrong with it. What
// stands nearest is kept by a word.
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import type { Fault, PartBody, PartLook } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useParts, type PartSort } from './parts'

const copyOf = <T>(one: T): T => JSON.parse(JSON.stringify(one)) as T
const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

export interface Designed<Part, View> {
  sort: PartSort
  tracker: Ref<number>
  id: Ref<number>
  /** How it is read as it is kept. */
  read: () => Promise<View>
  /** What of it is changed. */
  partOf: (view: View) => Part
  body: (part: Part) => PartBody
  /** What was looked at, as it would stand. */
  viewOf: (look: NonNullable<PartLook['view']>) => View | undefined
}

export function useDesign<Part, View>({ sort, tracker, id, read, partOf, body, viewOf }: Designed<Part, View>) {
  const parts = useParts(() => tracker.value)
  const asked = useAsked(
    () => [sort, tracker.value, id.value],
    read,
    (heard) => heard.structure,
  )
  const draft = ref<Part>() as Ref<Part | undefined>
  const would = ref<View>() as Ref<View | undefined>
  const faults = ref<Fault[]>([])
  const kept = computed(() => asked.told.value)
  const changed = computed(() => !!kept.value && !!draft.value && !same(draft.value, partOf(kept.value)))

  // What somebody else keeps is shown, unless one has changed something oneself.
  watch(
    kept,
    (now, before) => {
      if (!now || (before && draft.value && !same(draft.value, partOf(before)))) return
      draft.value = copyOf(partOf(now))
      would.value = now
      faults.value = []
    },
    { immediate: true },
  )

  const looking = useDoing()
  watchDebounced(
    draft,
    async (now) => {
      if (!now || !kept.value) return
      if (!changed.value) {
        looking.overtake()
        would.value = kept.value
        faults.value = []
        return
      }
      const look = await looking.newest(() => parts.look(body(now), id.value))
      if (!look) return
      faults.value = look.faults
      const seen = look.view && viewOf(look.view)
      if (seen) would.value = seen
    },
    { debounce: 200, deep: true },
  )

  const doing = useDoing()
  async function keep(next: Partial<Part> = {}) {
    if (!draft.value) return false
    const part = { ...draft.value, ...next }
    const done = await doing.attempt(() => parts.save(sort, id.value, body(part)))
    if (!done) return false
    // What was kept stands as it is read again.
    draft.value = undefined
    await asked.again()
    draft.value ??= kept.value && copyOf(partOf(kept.value))
    would.value = kept.value
    return true
  }
  function leave() {
    if (kept.value) draft.value = copyOf(partOf(kept.value))
  }
  function put(part: Partial<Part>) {
    if (draft.value) draft.value = { ...draft.value, ...part }
  }
  const faultAt = (...at: string[]) => faults.value.find((fault) => at.some((one) => fault.pointer === one))?.message ?? doing.at(...at)

  return {
    draft,
    would,
    kept,
    faults,
    changed,
    faultAt,
    put,
    keep,
    leave,
    doing,
    busy: doing.busy,
    trouble: computed(() => asked.trouble.value || looking.trouble.value || doing.trouble.value),
    drop: () => doing.attempt(() => parts.drop(sort, id.value)),
  }
}
