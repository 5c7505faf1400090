// Trying a formula on a record while it is being typed. Nothing is kept by it.
import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { Kind, Tried } from '@/api/types'
import { useDoing } from '@/app/asking'

/** Milliseconds without typing before a formula is tried. */
const REST = 150

export function useTrying(
  at: Ref<{ tracker: number; table: number }>,
  formula: Ref<string>,
  record: Ref<number | undefined>,
  shows: Ref<Kind | undefined>,
) {
  /** What was found, and the formula it was found of. */
  const tried = shallowRef<Tried & { of: string }>()
  const doing = useDoing()
  let timer: ReturnType<typeof setTimeout> | undefined

  async function attempt() {
    const body = { formula: formula.value, record: record.value ?? null, shows: shows.value ?? null }
    const answer = await doing.newest(() =>
      told(api.POST('/api/trackers/{tracker}/tables/{table}/formulas', { params: { path: at.value }, body })),
    )
    if (answer) tried.value = { ...answer, of: body.formula }
  }

  watch(
    [at, formula, record, shows],
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void attempt(), REST)
    },
    { immediate: true, deep: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    doing.overtake()
  })
  return { tried, trouble: doing.trouble }
}
