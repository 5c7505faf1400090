<script setup lang="ts">
// Another stage of a tracker's life: closed, put away, removed, or open again; said before it is done.
import { useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Stage } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ tracker: number; to: Stage }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const edits = useEdits()
const { read: readTracker } = useTracker()
const { trouble, busy, attempt } = useDoing()

const ACTS: Record<Stage, string> = { open: 'Open it again', closed: 'Close it', away: 'Put it away', removed: 'Remove it' }
const ask = (rehearse: boolean) =>
  told(api.POST('/api/trackers/{tracker}/stage', { params: { path: { tracker: props.tracker } }, body: { to: props.to, rehearse } }))
const heard = useAsked(
  () => ['stage', props.tracker, props.to],
  () => ask(true),
)

const act = () =>
  attempt(async () => {
    const { done } = await ask(false)
    if (done) edits.remember(props.tracker, done)
    // What is out of the way is not what one goes on with.
    if (props.to === 'away' || props.to === 'removed') return router.push({ name: 'home' })
    await readTracker()
    emit('close')
  })
</script>

<template>
  <RehearsalPanel
    :title="heard.told.value?.rehearsal?.title ?? ''"
    :act="ACTS[to]"
    :busy="busy || heard.waiting.value"
    :trouble="trouble || heard.trouble.value"
    @act="act"
    @leave="emit('close')"
  >
    <p v-for="words in heard.told.value?.rehearsal?.says" :key="words">{{ words }}</p>
  </RehearsalPanel>
</template>

<style scoped>
p {
  margin: 2px 0;
}
</style>
