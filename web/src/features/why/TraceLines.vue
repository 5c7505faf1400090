<script setup lang="ts">
// How a value came about: the formula, the same with the values put in, step by step, and what went in.
import { computed, ref } from 'vue'
import type { components } from '@/api/schema'

type TraceStep = components['schemas']['TraceStep']
type Source = components['schemas']['Source']

const props = defineProps<{
  formula?: string
  withValues?: string
  result: string
  steps: TraceStep[]
  sources: Source[]
  /** The record itself: its own values need no name before them. */
  table?: number
  record?: number
}>()
const emit = defineEmits<{ ask: [cell: { table: number; record: number; field: number }, spot: { x: number; y: number }] }>()

const all = ref(false)
// The last step is the formula itself, which stands above.
const inner = computed(() => props.steps.slice(0, -1))
const elsewhere = (source: Source) =>
  source.cell && source.name !== source.cell.record_name && !(source.cell.table === props.table && source.cell.record === props.record)
</script>

<template>
  <div v-if="formula" class="formula">
    <p class="code">{{ formula }}</p>
    <p class="code values"
      >{{ withValues }} = <b>{{ result || 'nothing' }}</b></p
    >
  </div>
  <ol v-if="inner.length && (all || inner.length < 4)" class="steps" data-test="steps">
    <li v-for="step in inner" :key="step.part">
      <span class="code quiet">{{ step.part }}</span>
      <span class="code"
        >{{ step.with_values }} = <b>{{ step.result || 'nothing' }}</b></span
      >
    </li>
  </ol>
  <button v-else-if="inner.length" class="more" @click="all = true">Show its {{ inner.length }} steps</button>
  <table v-if="sources.length" class="sources">
    <tbody>
      <tr v-for="(source, place) in sources" :key="place">
        <td>
          <span v-if="elsewhere(source)" class="quiet">{{ source.cell!.record_name }}: </span>{{ source.name }}
        </td>
        <td class="text">{{ source.text || 'nothing' }}</td>
        <td class="quiet">
          <button v-if="source.cell?.computed" @click="emit('ask', source.cell, { x: $event.clientX, y: $event.clientY })">Why?</button>
          <template v-else>{{ source.set }}</template>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.formula {
  border-left: 2px solid var(--line-strong);
  padding-left: 10px;
  margin: 6px 0;
}
.code {
  font-variant-numeric: tabular-nums;
  overflow-wrap: anywhere;
  margin: 2px 0;
}
.values b {
  font-weight: 600;
}
.steps {
  margin: 6px 0;
  padding-left: 20px;
}
.steps li > span {
  display: block;
}
.more,
td button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 0;
  text-decoration: underline;
}
.sources {
  border-collapse: collapse;
  width: 100%;
  font-size: 13px;
  margin-top: 6px;
}
td {
  border-top: 1px solid var(--line);
  padding: 3px 10px 3px 0;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.text {
  font-weight: 600;
  overflow-wrap: normal;
}
</style>
