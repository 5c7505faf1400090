<script setup lang="ts">
// The records that a link names, by their names.
import { computed, ref } from 'vue'
import type { Field } from '@/api/types'
import { tableOf, useDesk } from './desk'
import FolioFact from './FolioFact.vue'

const props = defineProps<{ field: Field }>()

/** Shown before one asks for all. */
const FIRST = 8
const desk = useDesk()
const more = ref(false)
const cell = computed(() => desk.value.cell(props.field.id))
const links = computed(() => cell.value?.links ?? [])
</script>

<template>
  <section class="linked">
    <h3>
      {{ field.name }} <span class="quiet">{{ links.length }}</span>
      <button v-if="desk.change && field.writes" class="change" @click="desk.begin(field.id)">change</button>
    </h3>
    <FolioFact
      v-if="desk.editing?.field === field.id"
      :field="field"
      :cell="cell"
      :change="desk.change"
      :at="desk.at"
      :table="desk.table.id"
      :editing="desk.editing"
      @cancel="desk.cancel(field.id, $event)"
      @commit="(input, move) => desk.commit(field, input, move)"
    />
    <ul v-else>
      <li v-for="link in links.slice(0, more ? undefined : FIRST)" :key="link.id">
        <router-link :to="{ name: 'record', params: { tracker: desk.tracker, table: tableOf(field), record: link.id } }">{{
          link.name
        }}</router-link>
        <span class="quiet">{{ link.beside }}</span>
      </li>
    </ul>
    <button v-if="links.length > FIRST && !more" class="change" @click="more = true">Show all</button>
  </section>
</template>

<style scoped>
.linked {
  margin-top: var(--gap-4);
}
h3 {
  font: 600 16px/1.4 var(--serif);
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 0;
  border-top: 1px solid var(--line-strong);
}
li {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.change {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font: 13px var(--sans);
}
</style>
