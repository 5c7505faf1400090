// What was said about a record, kept up to date while it is open, and saying more.
import { computed, ref, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { TalkPart } from '@/api/types'
import { useAsked } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useSession } from '@/features/session/session'
import { touchesRecord } from '@/features/tracker/tracker'
import { unread } from './timeline'

interface At {
  tracker: number
  table: number
  record: number
}

/** What goes with what is said: new files, by their tokens, and which of its own stay, by their ids. */
export interface Beside {
  tokens: string[]
  files: string[]
}

export function useTalk(at: Ref<At>) {
  const edits = useEdits()
  const { me } = useSession()
  const standing = computed(() => !!me.value?.stands_in)
  const path = () => ({ ...at.value })
  const asked = useAsked(
    () => ['talk', at.value.tracker, at.value.table, at.value.record],
    () => told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}/talk', { params: { path: path() } })),
    (heard) => touchesRecord(heard, at.value.table, at.value.record),
  )
  const comments = computed(() => asked.told.value?.comments ?? [])
  /** Whether one is told what is said, and to whom else it is. */
  const hears = computed(() => asked.told.value?.hears ?? true)
  const toldTo = computed(() => ({ roles: asked.told.value?.roles ?? [], says: asked.told.value?.says ?? '' }))
  const follows = ref(false)
  watch(asked.told, (now) => now && (follows.value = now.follows))
  /** How far one had read when the record was opened: what is new stays marked until one leaves. */
  const readBefore = ref<number>()
  watch(
    () => [at.value.table, at.value.record],
    () => (readBefore.value = undefined),
  )
  watch(
    asked.told,
    (now) => {
      if (!now) return
      readBefore.value ??= now.read ?? 0
      const last = now.comments.at(-1)?.id
      if (last && last > (now.read ?? 0) && !standing.value) void attend({ read: last })
    },
    { immediate: true },
  )
  const fresh = computed(() => unread(comments.value, readBefore.value))

  async function attend(body: { read?: number; follows?: boolean }) {
    await told(api.PUT('/api/trackers/{tracker}/tables/{table}/records/{record}/attention', { params: { path: path() }, body }))
  }
  async function follow(on: boolean) {
    await attend({ follows: on })
    follows.value = on
  }
  async function say(said: TalkPart[], { tokens }: Beside, answers?: number) {
    const body = { said, tokens, answers: answers ?? null }
    edits.remember(
      at.value.tracker,
      await told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/talk', { params: { path: path() }, body })),
    )
    await asked.again()
  }
  const one = (comment: number) => ({ params: { path: { ...path(), comment } } })
  async function change(comment: number, said: TalkPart[], { files }: Beside) {
    const body = { said, files }
    const done = told(api.PUT('/api/trackers/{tracker}/tables/{table}/records/{record}/talk/{comment}', { ...one(comment), body }))
    edits.remember(at.value.tracker, await done)
    await asked.again()
  }
  async function takeBack(comment: number) {
    const done = told(api.DELETE('/api/trackers/{tracker}/tables/{table}/records/{record}/talk/{comment}', one(comment)))
    edits.remember(at.value.tracker, await done)
    await asked.again()
  }
  /** To which roles alone what is said of all records of the table is told from now on; none: to whoever sees the record. */
  async function tellTo(roles: number[]) {
    const { tracker, table } = at.value
    const done = told(api.PUT('/api/trackers/{tracker}/tables/{table}/talk', { params: { path: { tracker, table } }, body: { roles } }))
    edits.remember(tracker, await done)
    await asked.again()
  }
  return { comments, fresh, hears, toldTo, tellTo, follows, follow, say, change, takeBack, standing, trouble: asked.trouble }
}

export type Talk = ReturnType<typeof useTalk>
