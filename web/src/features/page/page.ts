// A shared page on the way from one state to another: as it would stand, what that would do, and what is wrong with it.
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { Fault, PageBlock, PageDesign, PageRecords, SharedPage } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'

const copyOf = <T>(one: T): T => JSON.parse(JSON.stringify(one)) as T
const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/** What is shown of a table, where a part of a page is that. */
export const recordsOf = (block: PageBlock): PageRecords | undefined => ('records' in block ? block.records : undefined)

/** The next number of a part that shows records. */
export const nextNumber = (page: SharedPage) => Math.max(0, ...page.blocks.map((block) => recordsOf(block)?.number ?? 0)) + 1

/** The next number of somebody whom it names. */
export const nextGuest = (page: SharedPage) => Math.max(0, ...(page.guests ?? []).map((guest) => guest.id)) + 1

export function usePageDesign(tracker: Ref<number>, id: Ref<number>) {
  const parts = useParts(() => tracker.value)
  const asked = useAsked(
    () => ['page', tracker.value, id.value],
    () => told(api.GET('/api/trackers/{tracker}/pages/{page}', { params: { path: { tracker: tracker.value, page: id.value } } })),
    (heard) => heard.structure,
  )
  const draft = ref<SharedPage>()
  const would = ref<PageDesign>()
  const faults = ref<Fault[]>([])
  const kept = computed(() => asked.told.value)
  const changed = computed(() => !!kept.value && !!draft.value && !same(draft.value, kept.value.page))

  // What somebody else keeps is shown, unless one has changed something oneself.
  watch(
    kept,
    (now, before) => {
      if (!now || (before && draft.value && !same(draft.value, before.page))) return
      draft.value = copyOf(now.page)
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
      const look = await looking.newest(() => parts.look({ page: { page: now } }, id.value))
      if (!look) return
      faults.value = look.faults
      if (look.view && 'page' in look.view) would.value = look.view.page
    },
    { debounce: 200, deep: true },
  )

  const doing = useDoing()
  async function keep(next: Partial<SharedPage> = {}) {
    if (!draft.value) return false
    const page = { ...draft.value, ...next }
    const done = await doing.attempt(() => parts.save('page', id.value, { page: { page } }))
    if (!done) return false
    // What was kept stands as it is read again: with the passcode hidden, and an address of its own.
    draft.value = undefined
    await asked.again()
    draft.value ??= kept.value && copyOf(kept.value.page)
    would.value = kept.value
    return true
  }
  function leave() {
    if (kept.value) draft.value = copyOf(kept.value.page)
  }
  const faultAt = (...at: string[]) => faults.value.find((fault) => at.some((one) => fault.pointer === one))?.message ?? doing.at(...at)

  return {
    draft,
    would,
    kept,
    faults,
    changed,
    faultAt,
    keep,
    leave,
    busy: doing.busy,
    trouble: computed(() => asked.trouble.value || looking.trouble.value || doing.trouble.value),
    /** What a view shows, as it stands on a page. */
    shownBy: (view: number) =>
      doing.attempt(() => told(api.GET('/api/trackers/{tracker}/pages/of/{view}', { params: { path: { tracker: tracker.value, view } } }))),
    drop: () => doing.attempt(() => parts.drop('page', id.value)),
  }
}
