// What the server tells, and what it is asked to do. One place keeps what was told, reads it again when it was touched, and says
// what went wrong; pages show it.
import { QueryClient, useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, toValue, type MaybeRefOrGetter } from 'vue'
import { Problem, saying } from '@/api/client'
import { useChanges, type Heard } from '@/features/tracker/tracker'

/** Nothing is asked again behind people's backs: live changes say when something is old, and a fault is told at once. */
export function makeQueries() {
  return new QueryClient({
    defaultOptions: { queries: { retry: false, staleTime: 0, refetchOnWindowFocus: false, networkMode: 'always' } },
  })
}

/**
 * Something that the server tells, under a key: the same key is asked once, and what was told before stands until the fresh
 * answer comes. With `touched`, it is asked again whenever it says that a change touches it.
 */
export function useAsked<T>(
  key: MaybeRefOrGetter<readonly unknown[]>,
  ask: () => Promise<T>,
  touched?: (heard: Heard, now: T | undefined) => boolean,
) {
  const queryKey = computed(() => [...toValue(key)])
  // Nothing is kept once nobody shows it: somebody else may be signed in by then.
  const query = useQuery({ queryKey, queryFn: ask, gcTime: 0 })
  const closed = computed(() => query.error.value instanceof Problem && [401, 403, 404].includes(query.error.value.status))
  if (touched) {
    useChanges(
      () => void query.refetch(),
      (heard) => touched(heard, query.data.value as T | undefined),
    )
  }
  return {
    /** What was told; what may not be seen any more does not stay. */
    told: computed<T | undefined>(() => (closed.value ? undefined : (query.data.value as T | undefined))),
    /** Nothing was told yet. */
    waiting: computed(() => query.isPending.value && !query.error.value),
    trouble: computed(() => (query.error.value ? saying(query.error.value) : '')),
    again: () => query.refetch(),
  }
}

/** Does one thing at a time, and keeps what was wrong with the last: in a sentence, and at its places in what was sent. */
export function useDoing() {
  const trouble = ref('')
  const problem = shallowRef<Problem>()
  const busy = ref(false)

  function went(error: unknown) {
    trouble.value = saying(error)
    problem.value = error instanceof Problem ? error : undefined
  }

  /** What came of it; nothing where it went wrong. */
  async function attempt<T>(does: () => Promise<T>): Promise<T | undefined> {
    trouble.value = ''
    problem.value = undefined
    busy.value = true
    try {
      return await does()
    } catch (error) {
      went(error)
      return undefined
    } finally {
      busy.value = false
    }
  }

  let round = 0
  /**
   * The same of what is asked again and again, while somebody types or walks on: an answer that a newer question has overtaken is
   * dropped, and what was wrong stays to be read until an answer comes.
   */
  async function newest<T>(does: () => Promise<T>): Promise<T | undefined> {
    const mine = ++round
    busy.value = true
    try {
      const answer = await does()
      if (mine !== round) return undefined
      trouble.value = ''
      problem.value = undefined
      return answer
    } catch (error) {
      if (mine === round) went(error)
      return undefined
    } finally {
      if (mine === round) busy.value = false
    }
  }
  /** Whatever is still on its way is not wanted any more. */
  const overtake = () => void round++

  /** What is wrong at the first of these places that something is wrong at. */
  const at = (...pointers: string[]) => pointers.map((pointer) => problem.value?.at(pointer)).find(Boolean)
  /** What is wrong at no place of its own, to be said once. */
  const general = computed(() => (problem.value?.faults.some((fault) => fault.pointer) ? '' : trouble.value))

  return { trouble, problem, busy, attempt, newest, overtake, at, general }
}
