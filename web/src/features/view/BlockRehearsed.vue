<script setup lang="ts">
// A block that would not go in as it is, or brings new records: what would become of it, before it is put in.
import { computed } from 'vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { figure } from '@/theme/own'
import type { Selection } from './selecting'

const props = defineProps<{ selection: Selection }>()
const told = computed(() => props.selection.waiting.value?.told)
const waiting = computed(() => props.selection.waiting.value)
const nothing = computed(() => !told.value?.changed && !told.value?.added)
</script>

<template>
  <RehearsalPanel
    v-if="told"
    class="rehearsed"
    title="A block of cells"
    :act="told.unfit ? 'Put in what fits' : 'Put it in'"
    :busy="selection.busy.value"
    :blocked="!!told.refused || nothing"
    :trouble="told.refused || selection.wrong.value"
    @act="selection.go()"
    @leave="selection.leave()"
  >
    <p class="says">{{ told.says.join(' ') }}</p>
    <template v-if="told.missing.length || waiting?.make">
      <p v-for="missing in told.missing" :key="missing" class="missing"
        ><span class="quiet">Not there yet, and could be made:</span> {{ missing }}</p
      >
      <p class="missing"
        ><button v-if="waiting?.make" type="button" class="link" data-test="block-make-not" @click="selection.making(false)"
          >make nothing on the way</button
        ><button v-else type="button" class="link" data-test="block-make" @click="selection.making(true)">make them on the way</button></p
      >
    </template>
    <table v-if="told.wrong.length" data-test="block-wrong">
      <thead>
        <tr><th>Row</th><th>Field</th><th>What stands there</th><th>Why it does not fit</th></tr>
      </thead>
      <tbody>
        <tr v-for="(one, n) in told.wrong.slice(0, 8)" :key="n"
          ><td>{{ figure(one.row) }}</td
          ><td>{{ one.field }}</td
          ><td>{{ one.text }}</td
          ><td class="quiet">{{ one.why }}</td></tr
        >
      </tbody>
    </table>
    <p v-if="told.unfit > 8" class="quiet">and {{ figure(told.unfit - 8) }} more</p>
  </RehearsalPanel>
</template>

<style scoped>
.rehearsed {
  max-height: 60vh;
  overflow-y: auto;
}
.says {
  font: 16px/1.5 var(--serif);
  margin: 0 0 4px;
}
.missing {
  margin: 0 0 4px;
}
table {
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--quiet);
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
  max-width: 320px;
  vertical-align: top;
}
</style>
