<script setup lang="ts">
// Every function, to be found by typing; pressing one puts it in.
import { computed, ref } from 'vue'
import type { FunctionHelp } from '@/api/types'

const props = defineProps<{ functions: FunctionHelp[] }>()
const emit = defineEmits<{ put: [name: string] }>()
const typed = ref('')

const groups = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  const found = props.functions.filter((f) => !wanted || f.name.toLowerCase().includes(wanted) || f.help.toLowerCase().includes(wanted))
  return [...new Set(found.map((f) => f.group))].map((group) => ({ group, functions: found.filter((f) => f.group === group) }))
})
</script>

<template>
  <section class="functions" aria-label="Functions">
    <input v-model="typed" type="search" placeholder="Find a function: round, days between, join …" aria-label="Find a function" />
    <div class="list">
      <template v-for="one in groups" :key="one.group">
        <h4>{{ one.group }}</h4>
        <button v-for="f in one.functions" :key="f.name" type="button" @click="emit('put', `${f.name}(`)">
          <b>{{ f.signature }}</b> <span class="quiet">{{ f.help }}</span>
          <span class="example">{{ f.example }} is {{ f.gives }}</span>
        </button>
      </template>
      <p v-if="!groups.length" class="quiet">No function does that by name. Try a shorter word.</p>
    </div>
  </section>
</template>

<style scoped>
input {
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 8px;
}
.list {
  max-height: 260px;
  overflow-y: auto;
  margin-top: 6px;
}
h4 {
  font: 600 13px var(--sans);
  color: var(--quiet);
  margin: 8px 0 2px;
}
button {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  padding: 5px 2px;
  cursor: pointer;
  font-size: 13px;
}
button:hover {
  background: var(--moss-soft);
}
.example {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
</style>
