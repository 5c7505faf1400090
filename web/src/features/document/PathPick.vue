<script setup lang="ts">
// One field, also along links, of those that fit.
import { computed } from 'vue'
import type { Field, Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { selectAll } from '@/features/condition/selectAll'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{
  table: Table
  path: number[]
  label: string
  fits: (field: Field) => boolean
  /** What stands for none, where there may be none. */
  none?: string
}>()
const emit = defineEmits<{ change: [path: number[]] }>()
const { tracker } = useTracker()
const items = computed(() => {
  const all = tracker.value ? paths(tracker.value, props.table) : []
  const fitting = all.filter((one) => props.fits(one.field)).map((one) => ({ title: one.name, value: one.key }))
  return props.none ? [{ title: props.none, value: '' }, ...fitting] : fitting
})
const put = (key: string | null) => key !== null && emit('change', key ? key.split('.').map(Number) : [])
</script>

<template>
  <v-autocomplete
    class="path"
    :model-value="path.join('.')"
    :items="items"
    :aria-label="label"
    data-test="path-pick"
    hide-details
    @focus="selectAll"
    @update:model-value="put"
  />
</template>

<style scoped>
.path {
  width: min(340px, 86vw);
}
</style>
