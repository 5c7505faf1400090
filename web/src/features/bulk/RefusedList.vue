<script setup lang="ts">
// Those of many records with which it can't be done: named, with why, and left out on a press.
import type { BulkRehearsal, Table } from '@/api/types'
import { figure } from '@/theme/own'

defineProps<{ table: Table; outcome: BulkRehearsal; says: string }>()
const emit = defineEmits<{ without: [records: number[]] }>()
</script>

<template>
  <div class="refused" data-test="bulk-refused">
    <p>{{ figure(outcome.refusals) }} {{ outcome.refusals === 1 ? table.one : table.many }} {{ says }}</p>
    <ul>
      <li v-for="one in outcome.refused" :key="one.record"
        ><b>{{ one.name }}</b> {{ one.why }}</li
      >
    </ul>
    <button
      type="button"
      class="link"
      data-test="bulk-leave-out"
      @click="
        emit(
          'without',
          outcome.refused.map((one) => one.record),
        )
      "
      >Leave {{ outcome.refused.length > 1 ? 'these' : 'this one' }} out</button
    >
  </div>
</template>

<style scoped>
.refused {
  border-left: 3px solid var(--fault);
  padding-left: var(--gap-3);
}
p {
  margin: 0 0 6px;
}
ul {
  margin: 0 0 4px;
  padding-left: 18px;
}
</style>
