<script setup lang="ts">
// What of a record looks otherwise: the whole of it, or some of its fields.
import type { Table } from '@/api/types'

const props = defineProps<{
  table: Table
  /** None: the whole record. */
  fields: number[]
  /** Nothing is chosen yet. */
  fresh?: boolean
}>()
const emit = defineEmits<{ change: [fields: number[]]; remove: [] }>()

const toggle = (field: number) =>
  emit('change', props.fields.includes(field) ? props.fields.filter((one) => one !== field) : [...props.fields, field])
</script>

<template>
  <div class="touched" data-test="touched">
    <label>
      <input type="radio" :checked="!fresh && !fields.length" data-test="touch-whole" @change="emit('change', [])" />
      the whole {{ table.one }}
    </label>
    <p class="quiet">or in it</p>
    <label v-for="field in table.fields" :key="field.id">
      <input type="checkbox" :checked="fields.includes(field.id)" :data-touch="field.name" @change="toggle(field.id)" />
      {{ field.name }}
    </label>
    <button v-if="!fresh" type="button" class="link" data-test="drop-touch" @click="emit('remove')">Leave this out</button>
  </div>
</template>

<style scoped>
.touched {
  display: grid;
  max-height: 360px;
  overflow-y: auto;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
  cursor: pointer;
}
p {
  margin: 2px 0;
  border-top: 1px solid var(--line);
  padding-top: 4px;
}
input {
  accent-color: var(--moss);
}
.link {
  justify-self: start;
  margin-top: var(--gap-2);
}
@media (pointer: coarse) {
  label {
    min-height: 40px;
  }
}
</style>
