<script setup lang="ts">
// A button of a record: pressing it runs its automation, and says so.
import { ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Field } from '@/api/types'

const props = defineProps<{ field: Field; at: { tracker: number; table: number; record: number }; may: boolean }>()
const emit = defineEmits<{ pressed: [] }>()

const label = () => (props.field.kind.type === 'button' && props.field.kind.label) || props.field.name
const said = ref('')
const busy = ref(false)

async function press() {
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
