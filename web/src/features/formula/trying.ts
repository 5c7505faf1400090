// Trying a formula on a record while it is being typed. Nothing is kept by it.
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Kind, Tried } from '@/api/types'

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
  const trouble = ref('')
  let round = 0
  let timer: ReturnType<typeof setTimeout> | undefined

  async function attempt() {
    const mine = ++round
    const body = { formula: formula.value, record: record.value ?? null, shows: shows.value ?? null }
    try {
      const answer = await told(api.POST('/api/trackers/{tracker}/tables/{table}/formulas', { params: { path: at.value }, body }))
      if (mine !== round) return
      tried.value = { ...answer, of: body.formula }
      trouble.value = ''
    } catch (error) {
      if (mine === round) trouble.value = saying(error)
    }
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
    round++
  })
  return { tried, trouble }
}
