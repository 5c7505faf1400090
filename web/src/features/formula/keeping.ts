// Keeping a computed field: telling what was done, reading the structure again, and going back to the view.
import { useRoute, useRouter } from 'vue-router'
import type { Done } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useTracker } from '@/features/tracker/tracker'

export function useKeeping(at: () => { tracker: number; table: number }) {
  const route = useRoute()
  const router = useRouter()
  const edits = useEdits()
  const { read: readTracker } = useTracker()
  const { trouble, busy: keeping, attempt } = useDoing()

  /** Back to the view that one came from; a field that was just made is shown there. */
  function back(show?: number) {
    void router.push({ name: 'view', params: { ...at(), view: String(route.query.view ?? '') }, query: show ? { show } : {} })
  }

  async function keep(asked: () => Promise<Done>) {
    await attempt(async () => {
      const done = await asked()
      edits.remember(at().tracker, done)
      await readTracker()
      back(done.made ?? undefined)
    })
  }

  /** The field before which a new one stands. */
  const before = () => (route.query.before ? Number(route.query.before) : null)
  return { keep, back, before, keeping, trouble }
}
