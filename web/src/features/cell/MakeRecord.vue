<script setup lang="ts">
// A record that is not there yet, made from within a picker: near-doubles first, then what has to be filled in.
import { computed, ref } from 'vue'
import type { Input, RecordName, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from './edits'

const props = defineProps<{
  tracker: number
  table: Table
  name: string
  near: RecordName[]
  /** Fields that have to be filled in beside the name. */
  asks: number[]
}>()
const emit = defineEmits<{ made: [record: { id: number; name: string }]; take: [record: RecordName]; leave: [] }>()

const edits = useEdits()
const typed = ref<Record<number, string>>({})
const { trouble, busy, attempt } = useDoing()
const fields = computed(() => props.table.fields.filter((f) => props.asks.includes(f.id)))
const ready = computed(() => fields.value.every((f) => typed.value[f.id]?.trim()))

const make = () =>
  attempt(async () => {
    const cells: Record<string, Input> = { [props.table.standing]: { text: props.name } }
    for (const field of fields.value) cells[field.id] = { text: typed.value[field.id] ?? '' }
    const id = await edits.add({ tracker: props.tracker, table: props.table.id }, cells)
    if (id) emit('made', { id, name: props.name })
  })
</script>

<template>
  <form class="make" data-test="make-record" @submit.prevent="make" @keydown.stop @mousedown.stop>
    <template v-if="near.length">
      <p>Is it one of these?</p>
      <button v-for="one in near" :key="one.id" type="button" class="near" @click="emit('take', one)"
        >{{ one.name }} <span class="quiet">{{ one.beside }}</span></button
      >
    </template>
    <p
      >A new {{ table.one }}: <b>{{ name }}</b></p
    >
    <label v-for="field in fields" :key="field.id">{{ field.name }} <input v-model="typed[field.id]" /></label>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <v-btn type="submit" size="small" color="primary" :disabled="!ready" :loading="busy" data-test="make-it">Make it</v-btn>
    <v-btn size="small" variant="text" @click="emit('leave')">Leave it</v-btn>
  </form>
</template>

<style scoped>
.make {
  padding: 6px;
  white-space: normal;
}
p {
  margin: 2px 0 4px;
}
.near {
  display: block;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 3px 0;
  text-align: left;
}
label {
  display: block;
  font-size: 12.5px;
  color: var(--quiet);
}
input {
  display: block;
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 3px 6px;
}
</style>
