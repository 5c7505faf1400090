// The texts by which messages are written, changed in one place for all of them.
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { StoredText } from '@/api/types'
import { useAsked } from '@/app/asking'

export function useTexts(tracker: () => number) {
  const asked = useAsked<StoredText[]>(
    () => ['texts', tracker()],
    () => told(api.GET('/api/trackers/{tracker}/texts', { params: { path: { tracker: tracker() } } })),
    () => true,
  )
  return { texts: computed(() => asked.told.value ?? []), again: asked.again, trouble: asked.trouble }
}

/** Whom a text is of besides the message one is at: *Also written by it: “Tell the crew”.* */
export function alsoWritten(text: StoredText, here?: string): string {
  const others = text.used_by.filter((name) => name !== here)
  return others.length ? `Also written by it: ${others.map((name) => `“${name}”`).join(', ')}.` : ''
}
