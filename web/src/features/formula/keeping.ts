// Keeping a computed field: telling what was done, reading the structure again, and going back to the view.
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { saying } from '@/api/client'
import type { Done } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import { useTracker } from '@/features/tracker/tracker'

export function useKeeping(at: () => { tracker: number; table: number }) {
  const route = useRoute()
  const router = useRouter()
  const edits = useEdits()
  const { read: readTracker } = useTracker()
  const keeping = ref(false)
  const trouble = ref('')

  /** Back to the view that one came from; a field that was just made is shown there. */
  function back(show?: number) {
    void router.push({ name: 'view', params: { ...at(), view: String(route.query.view ?? '') }, query: show ? { show } : {} })
  }

  async function keep(asked: () => Promise<Done>) {
    trouble.value = ''
    keeping.value = true
    try {
      const done = await asked()
      edits.remember(at().tracker, done)
      await readTracker()
      back(done.made ?? undefined)
    } catch (error) {
      trouble.value = saying(error)
    } finally {
      keeping.value = false
    }
  }

  /** The field before which a new one stands. */
  const before = () => (route.query.before ? Number(route.query.before) : null)
  return { keep, back, before, keeping, trouble }
}
