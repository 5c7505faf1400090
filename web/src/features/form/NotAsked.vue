<script setup lang="ts">
// What a form asks nobody: what is put in quietly, what comes by itself, and what could be asked too.
import { computed } from 'vue'
import type { Field, Script, Table } from '@/api/types'

const props = defineProps<{ script: Script | undefined; table: Table; readonly: boolean }>()
const emit = defineEmits<{ ask: [field: Field]; make: [] }>()
const free = computed(() => (props.script?.free ?? []).flatMap((id) => props.table.fields.find((f) => f.id === id) ?? []))
</script>

<template>
  <section class="silent" aria-label="Not asked">
    <h2>Not asked</h2>
    <div>
      <p v-for="words in script?.quietly" :key="words">{{ words }}</p>
      <p v-if="script?.itself" class="quiet">{{ script.itself }}</p>
      <p v-if="!readonly" class="free">
        <template v-if="free.length">Ask for </template>
        <button v-for="field in free" :key="field.id" :data-ask="field.name" @click="emit('ask', field)">{{ field.name }}</button>
        <button data-test="ask-new" @click="emit('make')">something the table does not know yet</button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.silent {
  display: grid;
  grid-template-columns: minmax(calc(var(--stream, 0px) + 70px), max-content) minmax(0, 1fr);
  column-gap: var(--gap-3);
  border-top: 1px solid var(--line-strong);
  padding: var(--gap-3) 0;
}
h2 {
  color: var(--quiet);
  font-size: 15px;
}
p {
  margin: 0 0 6px;
}
.free {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
}
.free button {
  border: 0;
  background: none;
  padding: 4px 0;
  color: var(--moss);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
@media (max-width: 700px) {
  .silent {
    grid-template-columns: minmax(0, 1fr);
  }
  .free button {
    min-height: 40px;
  }
}
</style>
