// What was last done to the team, and taking it back.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { TeamDone } from '@/api/types'
import { useDoing } from '@/app/asking'

/** @param after reads again what the team’s change moved */
export function useTeamSteps(after: () => Promise<unknown>) {
  const last = ref<TeamDone>()
  const { trouble, busy, attempt } = useDoing()

  /** Something was done, in the server’s words; nothing: only what is shown is old. */
  async function done(what: TeamDone | null | undefined) {
    last.value = what?.did ? what : undefined
    await after()
  }

  async function undo() {
    const seq = last.value?.seq
    if (seq == null) return
    const back = await attempt(() => told(api.POST('/api/team/undo/{seq}', { params: { path: { seq } } })))
    if (back) await done({ ...back, seq: null })
  }

  function close() {
    last.value = undefined
    trouble.value = ''
  }

  return {
    /** What was last done, as a sentence. */
    words: computed(() => (last.value ? `You ${last.value.did}.` : undefined)),
    canUndo: computed(() => last.value?.seq != null),
    last,
    trouble,
    busy,
    attempt,
    done,
    undo,
    close,
  }
}
