// What can be said of fields, in core's words: asked once for the whole page.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Check, CheckWords, Kind, KindWords, Vocabulary } from '@/api/types'

export const VOCABULARY = ['vocabulary'] as const

/** The vocabulary, and what it says of kinds; nothing until it came. */
export function useVocabulary() {
  const query = useQuery({ queryKey: VOCABULARY, queryFn: () => told(api.GET('/api/vocabulary')), staleTime: Infinity })
  const vocabulary = computed<Vocabulary | undefined>(() => query.data.value)
  const kinds = computed(() => new Map(vocabulary.value?.kinds.map((words) => [words.type, words])))
  return {
    vocabulary,
    ofKind: (type: Kind['type'] | undefined): KindWords | undefined => (type ? kinds.value.get(type) : undefined),
    checks: (type: Kind['type'] | undefined): CheckWords[] => (type && kinds.value.get(type)?.checks) || [],
  }
}

/** Whether two checks are of one sort, whatever they compare with. */
export function isSameSort(one: Check, other: Check): boolean {
  const sort = (check: Check) => [check.is, 'how' in check ? check.how : '', 'not' in check ? check.not : ''].join()
  return sort(one) === sort(other)
}

/** The first check of a sort, keeping of another what fits it. */
export function turnedInto(check: Check, begins: Check): Check {
  if (check.is !== begins.is) return begins
  const { how, not } = begins as { how?: unknown; not?: unknown }
  return { ...check, ...(how === undefined ? {} : { how }), ...(not === undefined ? {} : { not }) } as Check
}
