<script setup lang="ts">
// Which fields a view shows, and in which order.
import { computed } from 'vue'
import type { Field, Query, Table } from '@/api/types'
import { facts, isKept } from '@/features/cell/kinds'

const props = defineProps<{
  table: Table
  fields: Query['fields']
  /** Whether a field’s slip opens from here. */
  slips?: boolean
}>()
const emit = defineEmits<{ change: [fields: Query['fields']]; slip: [field: Field] }>()

const shown = computed(() => props.fields.flatMap((s) => props.table.fields.filter((f) => f.id === s.field)))
const hidden = computed(() => props.table.fields.filter((f) => !props.fields.some((s) => s.field === f.id)))

function toggle(id: number, on: boolean) {
  if (on) emit('change', [...props.fields, { field: id, width: id === props.table.standing ? 280 : 140 }])
  else if (props.fields.length > 1)
    emit(
      'change',
      props.fields.filter((s) => s.field !== id),
    )
}

function shift(id: number, by: number) {
  const next = [...props.fields]
  const from = next.findIndex((s) => s.field === id)
  const [moved] = next.splice(from, 1)
  if (moved) next.splice(Math.max(0, from + by), 0, moved)
  emit('change', next)
}
</script>

<template>
  <div class="fields">
    <div v-for="(field, place) in shown" :key="field.id" class="field">
      <label>
        <input type="checkbox" checked @change="toggle(field.id, false)" />
        <v-icon :icon="facts(field).icon" size="16" class="quiet" />
        {{ field.name }}
      </label>
      <span>
        <button v-if="slips" type="button" :aria-label="`What is in ${field.name}`" :data-slip="field.name" @click="emit('slip', field)"
          >…</button
        >
        <button type="button" :disabled="place === 0" :aria-label="`${field.name} further left`" @click="shift(field.id, -1)">↑</button>
        <button type="button" :disabled="place === shown.length - 1" :aria-label="`${field.name} further right`" @click="shift(field.id, 1)"
          >↓</button
        >
      </span>
    </div>
    <p v-if="hidden.length" class="quiet rule">Not shown</p>
    <label v-for="field in hidden" :key="field.id" :class="{ quiet: isKept(field) }">
      <input type="checkbox" @change="toggle(field.id, true)" />
      <v-icon :icon="facts(field).icon" size="16" class="quiet" />
      {{ field.name }}
    </label>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  max-height: 420px;
  overflow-y: auto;
  min-width: 280px;
}
.field {
  display: flex;
  justify-content: space-between;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
  cursor: pointer;
}
input {
  accent-color: var(--moss);
}
button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--moss);
}
button:disabled {
  color: var(--line-strong);
  cursor: default;
}
.rule {
  margin: var(--gap-2) 0 2px;
  border-top: 1px solid var(--line);
  padding-top: var(--gap-2);
}
</style>
