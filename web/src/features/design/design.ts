// The design of one table: reading it, and changing its fields. Every step can be taken back like any other.
import { ref, toValue, watch, type MaybeRefOrGetter, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { Design, Done, FieldDef, FieldStep } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { touches, useChanges, useTracker } from '@/features/tracker/tracker'

export interface Other {
  name: string
  one: boolean
}

/**
 * @param wanted whether somebody looks at the design. It tells of each field in how many records it is filled, and so goes through
 *   all of them: a page that may come to show it does not ask for it before, nor with every change
 */
export function useDesign(tracker: Ref<number>, table: Ref<number>, wanted: MaybeRefOrGetter<boolean> = true) {
  const design = ref<Design>()
  const { trouble, newest } = useDoing()
  const edits = useEdits()
  const { tracker: currentTracker, read: readTracker } = useTracker()
  const at = () => ({ tracker: tracker.value, table: table.value })

  async function read() {
    if (!currentTracker.value?.builds) return
    const fresh = await newest(() => told(api.GET('/api/trackers/{tracker}/tables/{table}/design', { params: { path: at() } })))
    if (fresh) design.value = fresh
  }
  const readWanted = async () => {
    if (toValue(wanted)) await read()
  }
  watch(
    [tracker, table, () => toValue(wanted)],
    () => {
      design.value = undefined
      void readWanted()
    },
    { immediate: true },
  )
  useChanges(
    () => void readWanted(),
    (heard) => touches([table.value])(heard),
  )

  async function done<T extends { seq?: number | null; did?: string }>(asked: Promise<T>): Promise<T> {
    const answer = await asked
    edits.remember(tracker.value, answer)
    await readTracker()
    await readWanted()
    return answer
  }

  const fieldPath = (field: number) => ({ params: { path: { ...at(), field } } })
  const step = (field: number, body: FieldStep) =>
    done(told(api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field), body })))

  return {
    design,
    trouble,
    read,
    /** Puts what a change of kind did among the steps that can be taken back. */
    remember: (answer: Done) => done(Promise.resolve(answer)),
    add: (field: FieldDef, before: number | null, other?: Other) =>
      done(told(api.POST('/api/trackers/{tracker}/tables/{table}/fields', { params: { path: at() }, body: { field, before, other } }))),
    change: (field: FieldDef, merged: [number, number | null][]) =>
      done(told(api.PUT('/api/trackers/{tracker}/tables/{table}/fields/{field}', { ...fieldPath(field.id), body: { field, merged } }))),
    remove: (field: FieldDef) => done(told(api.DELETE('/api/trackers/{tracker}/tables/{table}/fields/{field}', fieldPath(field.id)))),
    duplicate: (field: FieldDef) => step(field.id, 'duplicate'),
    restore: (field: number) => step(field, 'restore'),
    move: (field: number, before: number | null) => step(field, { move: { before } }),
    name: (body: { name: string; one: string; heading: string; standing: number; beside: number | null }) =>
      done(told(api.PUT('/api/trackers/{tracker}/tables/{table}', { params: { path: at() }, body }))),
    drop: () => done(told(api.DELETE('/api/trackers/{tracker}/tables/{table}', { params: { path: at() } }))),
  }
}

export type DesignSteps = ReturnType<typeof useDesign>
