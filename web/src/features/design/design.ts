// The design of one table: reading it, and changing its fields. Every step can be taken back like any other.
import { ref, watch, type Ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Design, FieldDef } from '@/api/types'
import { useEdits } from '@/features/cell/edits'
import { currentTracker, readTracker, touches, useChanges } from '@/features/tracker/tracker'

export interface Other {
  name: string
  one: boolean
}

export function useDesign(tracker: Ref<number>, table: Ref<number>) {
  const design = ref<Design>()
  const trouble = ref('')
  const edits = useEdits()
  const at = () => ({ tracker: tracker.value, table: table.value })

  async function read() {
    if (!currentTracker.value?.builds) return
    try {
      design.value = await told(api.GET('/api/trackers/{tracker}/tables/{table}/design', { params: { path: at() } }))
    } catch (error) {
      trouble.value = saying(error)
    }
  }
  watch([tracker, table], () => void read(), { immediate: true })
  useChanges(
    () => void read(),
    (heard) => touches([table.value])(heard),
  )

  async function done<T extends { seq?: number | null }>(asked: Promise<T>, words: string): Promise<T> {
    const answer = await asked
    edits.remember(tracker.value, answer.seq, words)
    await readTracker(tracker.value)
    await read()
    return answer
  }

  const fieldPath = (field: number) => ({ params: { path: { ...at(), field } } })

  return {
    design,
    trouble,
    read,
    /** Puts what a change of kind did among the steps that can be taken back. */
    remember: (seq: number | null | undefined, words: string) => done(Promise.resolve({ seq }), words),
    add: (field: FieldDef, before: number | null, other?: Other) =>
      done(
        told(api.POST('/api/trackers/{tracker}/tables/{table}/fields', { params: { path: at() }, body: { field, before, other } })),
        `made the field ${field.name}`,
      ),
    change: (field: FieldDef, merged: [number, number | null][]) =>
      done(
        told(api.PUT('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field.id), body: { field, merged } })),
        `changed the field ${field.name}`,
      ),
    remove: (field: FieldDef) =>
      done(
        told(api.DELETE('/api/trackers/{tracker}/tables/{table}/fields/{field}', fieldPath(field.id))),
        `put the field ${field.name} into the bin`,
      ),
    duplicate: (field: FieldDef) =>
      done(
        told(api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field.id), body: 'duplicate' })),
        `duplicated ${field.name}`,
      ),
    restore: (field: number, name: string) =>
      done(
        told(api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field), body: 'restore' })),
        `brought ${name} back`,
      ),
    move: (field: number, before: number | null, name: string) =>
      done(
        told(api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field), body: { move: { before } } })),
        `moved ${name}`,
      ),
    name: (body: { name: string; one: string; heading: string; standing: number; beside: number | null }) =>
      done(told(api.PUT('/api/trackers/{tracker}/tables/{table}', { params: { path: at() }, body })), `renamed ${body.name}`),
    drop: (name: string) =>
      done(told(api.DELETE('/api/trackers/{tracker}/tables/{table}', { params: { path: at() } })), `put the table ${name} into the bin`),
  }
}

export type DesignSteps = ReturnType<typeof useDesign>
