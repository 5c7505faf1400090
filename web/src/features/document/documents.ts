// The documents that one can print, of all tables or of one.
import { computed } from 'vue'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'

export function useDocuments(tracker: () => number, table?: () => number) {
  const asked = useAsked(
    () => ['documents', tracker()],
    () => told(api.GET('/api/trackers/{tracker}/documents', { params: { path: { tracker: tracker() } } })),
    (heard) => heard.structure,
  )
  const documents = computed(() => (asked.told.value ?? []).filter((one) => !table || one.table === table()))
  return { documents, trouble: asked.trouble }
}
