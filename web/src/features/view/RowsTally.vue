<script setup lang="ts">
// The foot of a view: how many records there are, its figures, which are chosen there, and where one is.
import type { Query, Table, Tally } from '@/api/types'
import { figure } from '@/theme/own'
import TallyEditor from './TallyEditor.vue'

defineProps<{
  table: Table
  query: Query
  /** How many records there are, in words. */
  counted: string | undefined
  tallies: { key: string; name: string; text: string }[]
  /** How deep its groups are. */
  groups: number
  place: number | undefined
  total: number | undefined
  /** Whether there is a record to open. */
  opens: boolean
}>()
const emit = defineEmits<{ open: []; tallies: [next: Tally[]]; fold: []; jump: []; find: [] }>()
</script>

<template>
  <div class="tally" data-test="tally">
    <b>{{ counted ?? '…' }}</b>
    <span v-for="tally in tallies" :key="tally.key"
      >{{ tally.name }} <b>{{ tally.text || '–' }}</b></span
    >
    <v-menu location="top start" :close-on-content-click="false">
      <template #activator="{ props: menu }"
        ><button v-bind="menu" data-test="figures">{{ tallies.length ? 'figures …' : '+ figure' }}</button></template
      >
      <div class="boxed editor">
        <TallyEditor :table="table" :tallies="query.tallies ?? []" @change="emit('tallies', $event)" />
      </div>
    </v-menu>
    <button v-if="groups" data-test="fold-all" @click="emit('fold')">close or open all groups</button>
    <button v-if="total" data-test="find" title="Find words among them (Ctrl F)" @click="emit('find')">find …</button>
    <button v-if="total" class="place" data-test="jump" title="Go to another place (Ctrl G)" @click="emit('jump')">{{
      place === undefined ? 'go to …' : `${figure(place + 1)} of ${figure(total)}`
    }}</button>
    <button v-if="opens" class="open" data-test="open-folio" @click="emit('open')">Open folio</button>
  </div>
</template>

<style scoped>
.tally {
  display: flex;
  gap: var(--gap-5);
  background: var(--stone);
  border-top: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
  padding: 5px 10px;
  align-items: center;
  overflow-x: auto;
  scrollbar-width: none;
}
.tally > * {
  flex: none;
}
.tally b {
  color: var(--ink);
  font-weight: 600;
}
.place {
  margin-left: auto;
}
.tally > button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 0;
}
.tally > .open {
  text-decoration: underline;
}
.editor {
  padding: var(--gap-3);
  min-width: min(460px, 92vw);
}
</style>
