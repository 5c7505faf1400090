<script setup lang="ts">
// What is to be known of how a sheet was read: what its names were made of, and which rows were taken for no records.
import { computed } from 'vue'
import type { RowBeside } from '@/api/types'

const props = defineProps<{
  says: string[]
  beside: RowBeside[]
  /** The rows that are left out, from 0. */
  without: number[]
}>()
defineEmits<{ take: [row: number, taken: boolean] }>()

const out = computed(() => new Set(props.without))
</script>

<template>
  <ul v-if="says.length || beside.length" class="notes" aria-label="How it was read" data-test="notes">
    <li v-for="one in says" :key="one">{{ one }}</li>
    <li v-for="row in beside" :key="row.row" :class="{ taken: !out.has(row.row) }">
      Row {{ row.line }}, <q>{{ row.text }}</q>, looks like {{ row.what }} and is {{ out.has(row.row) ? 'left out' : 'taken in' }}.
      <button class="link" :data-row="row.line" @click="$emit('take', row.row, out.has(row.row))">
        {{ out.has(row.row) ? `Take row ${row.line} in` : `Leave row ${row.line} out` }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.notes {
  margin: 0 0 var(--gap-3);
  padding: var(--gap-2) var(--gap-3) var(--gap-2) 30px;
  border-left: 2px solid var(--copper);
  background: var(--sheet);
  max-width: 900px;
  max-height: 190px;
  overflow-y: auto;
  line-height: 1.6;
}
q {
  color: var(--quiet);
}
.taken {
  color: var(--quiet);
}
</style>
