<script setup lang="ts">
// A button of a record: pressing it runs its automation, and says so.
import { nextTick, ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Field } from '@/api/types'
import CellPopup from './CellPopup.vue'
import FollowSays from './FollowSays.vue'
import { askFollowing } from './following'

const props = defineProps<{ field: Field; at: { tracker: number; table: number; record: number }; may: boolean }>()
const emit = defineEmits<{ pressed: [] }>()

const label = () => (props.field.kind.type === 'button' && props.field.kind.label) || props.field.name
const said = ref('')
const busy = ref(false)
const button = ref<HTMLButtonElement>()
/** What would follow, while one has not agreed to it yet. */
const follows = ref<string[]>([])

async function press() {
  busy.value = true
  said.value = ''
  follows.value = await askFollowing(props.at, { press: props.field.id })
  busy.value = false
  if (!follows.value.length) await go()
}

async function leave() {
  follows.value = []
  await nextTick()
  button.value?.focus()
}

async function go() {
  if (follows.value.length) void leave()
  busy.value = true
  said.value = ''
  try {
    const params = { path: { ...props.at, field: props.field.id } }
    const headers = { 'Idempotency-Key': crypto.randomUUID() }
    await told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/press/{field}', { params, headers }))
    said.value = 'Set going'
    setTimeout(() => (said.value = ''), 4000)
    emit('pressed')
  } catch (error) {
    said.value = saying(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <button
    ref="button"
    type="button"
    class="press"
    :disabled="!may || busy"
    :title="field.help || undefined"
    :data-test="`press-${field.id}`"
    @mousedown.stop
    @click.stop="press"
    @keydown.enter.stop
    >{{ label() }}</button
  >
  <CellPopup v-if="follows.length" :anchor="button" place="under">
    <FollowSays :says="follows" :act="label()" @act="go" @leave="leave" />
  </CellPopup>
  <span class="said" role="status">{{ said }}</span>
</template>

<style scoped>
.press {
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--moss);
  padding: 0 8px;
  cursor: pointer;
}
.press:disabled {
  border-color: var(--line-strong);
  color: var(--quiet);
  cursor: default;
}
.said {
  color: var(--quiet);
  font-size: 12px;
  margin-left: 6px;
}
</style>
