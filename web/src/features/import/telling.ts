// Records being told in lines: what they are taken for, asked of the server while one writes.
import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Done, Said, TellReply } from '@/api/types'
import { useDoing } from '@/app/asking'

/** Milliseconds without typing before the lines are read. */
const REST = 250

interface About {
  tracker: number
  /** The table they go into; none: a new one. */
  into?: number
  /** What one record of a new table is. */
  one: string
}

export function useTelling(about: () => About) {
  const lines = ref('')
  const said = ref<Said[]>([])
  const names = ref<boolean>()
  const reply = shallowRef<TellReply>()
  const { trouble, busy, attempt, newest, overtake } = useDoing()
  let timer: ReturnType<typeof setTimeout> | undefined

  function send(make: boolean) {
    const { tracker, into, one } = about()
    const body = { lines: lines.value, one, into: into ?? null, said: said.value, names: names.value ?? null, make }
    return told(api.POST('/api/trackers/{tracker}/told', { params: { path: { tracker } }, body }))
  }

  async function read() {
    const answer = await newest(() => send(false))
    if (answer) reply.value = answer
  }

  watch(
    [lines, said, names, () => about().one],
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void read(), REST)
    },
    { immediate: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    overtake()
  })

  /** Says something of a piece, over what was said of it before. */
  function say(next: Said) {
    const before = said.value.find((one) => one.column === next.column)
    said.value = [...said.value.filter((one) => one !== before), { ...before, ...given(next) } as Said]
  }

  async function make(): Promise<Done | undefined> {
    clearTimeout(timer)
    overtake()
    return (await attempt(() => send(true)))?.done ?? undefined
  }

  return { lines, said, names, reply, trouble, busy, say, make }
}

const given = (said: Said) => Object.fromEntries(Object.entries(said).filter(([, value]) => value != null))
