// How much of one's inbox waits to be read: asked for now and then, wherever one is.
import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import { useSession } from '@/features/session/session'

/** How often, in milliseconds. */
const AGAIN = 5_000

export function useUnread() {
  const { me } = useSession()
  const asked = useAsked(
    () => ['unread', me.value?.person.id, me.value?.stands_in?.id],
    () => (me.value ? told(api.GET('/api/inbox/unread')) : Promise.resolve({ unread: 0 })),
  )
  return { unread: computed(() => asked.told.value?.unread ?? 0), again: asked.again }
}

/** The same, looked at again by itself. */
export function useUnreadLive() {
  const count = useUnread()
  useIntervalFn(() => void count.again(), AGAIN)
  return count
}
