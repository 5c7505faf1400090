<script setup lang="ts">
// Where a view shows nothing: what it is narrowed by, and what each part of that would leave.
import type { QueryReply, Table } from '@/api/types'

defineProps<{ answer: Pick<QueryReply, 'total' | 'alone'>; table: Table }>()
const emit = defineEmits<{ drop: [at: string] }>()
</script>

<template>
  <div class="nothing">
    <template v-if="answer.total">
      <p>No {{ table.one }} fits.</p>
      <ul v-if="answer.alone.length > 1" data-test="alone">
        <li v-for="part in answer.alone" :key="part.at">
          <b>{{ part.words }}</b> alone leaves {{ part.leaves }}.
          <button type="button" class="link" @click="emit('drop', part.at)">Drop it</button>
        </li>
      </ul>
      <p v-else-if="answer.alone[0]">
        It is narrowed by <b>{{ answer.alone[0].words }}</b>.
        <button type="button" class="link" @click="emit('drop', answer.alone[0].at)">Drop it</button></p
      >
    </template>
    <p v-else>There are no {{ table.many }} yet.</p>
  </div>
</template>

<style scoped>
.nothing {
  padding: 28px;
  color: var(--quiet);
  font: 16px/1.5 var(--serif);
  position: sticky;
  left: 0;
  max-width: min(760px, 100%);
}
.nothing p {
  margin: 0 0 var(--gap-2);
}
.nothing ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.nothing b {
  font-weight: 600;
  color: var(--ink);
}
.nothing button {
  margin-left: 4px;
  font: 14px var(--sans);
}
</style>
