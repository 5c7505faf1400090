<script setup lang="ts">
// A table in which nothing stands yet: the ways to begin. What is told is read on the spot, and nothing is made before one says so.
import type { Done, Table } from '@/api/types'
import TellLines from '@/features/import/TellLines.vue'

defineProps<{ table: Table; tracker: number }>()
const emit = defineEmits<{ add: []; made: [done: Done] }>()
</script>

<template>
  <section class="empty" aria-label="Nothing stands here yet" data-test="empty-table">
    <h2>There are no {{ table.many }} yet.</h2>
    <p class="says"
      >Write one {{ table.one }} down as you would tell it over the telephone, its pieces parted by commas, or paste lines from anywhere.
      <button type="button" class="link phrase" data-test="by-hand" @click="emit('add')">Add one by hand</button>, or
      <router-link :to="{ name: 'import', params: { tracker }, query: { into: table.id } }">bring in a file</router-link>.</p
    >
    <TellLines :tracker="tracker" :table="table" :one="table.one" @made="emit('made', $event)" />
  </section>
</template>

<style scoped>
.empty {
  padding: var(--gap-3) 0;
}
h2 {
  font-size: 20px;
}
.says {
  max-width: 760px;
  color: var(--quiet);
  font: 17px/1.55 var(--serif);
}
</style>
