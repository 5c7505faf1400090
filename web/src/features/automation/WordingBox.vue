<script setup lang="ts">
// A text with values of a record in braces, and the way to put one in.
import { computed } from 'vue'
import type { Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { selectAll } from '@/features/condition/selectAll'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ table: Table; label: string; rows: number; fault?: string; test: string }>()
const text = defineModel<string>({ required: true })

const { tracker } = useTracker()
const all = computed(() => (tracker.value ? paths(tracker.value, props.table) : []))
function insert(key: string | null) {
  const chosen = all.value.find((one) => one.key === key)
  if (chosen) text.value += `{${chosen.name.split(' → ').join('.')}}`
}
</script>

<template>
  <div class="wording">
    <p class="label" aria-hidden="true">{{ label }}</p>
    <v-textarea v-model="text" :aria-label="label" :rows="rows" :error-messages="fault" :data-test="test" />
    <p class="label" aria-hidden="true">Put a value in</p>
    <v-autocomplete
      :model-value="null"
      :items="all"
      item-value="key"
      item-title="name"
      aria-label="Put a value in"
      @focus="selectAll"
      @update:model-value="insert"
    />
  </div>
</template>

<style scoped>
.wording {
  display: grid;
  gap: var(--gap-3);
}
.label {
  margin: 0 0 -8px;
  color: var(--quiet);
  font-size: 12.5px;
}
</style>
