<script setup lang="ts">
// One month to pick a day from. A part of its own, so that pages without dates do not load it.
import { computed } from 'vue'
import { VDatePicker } from 'vuetify/components/VDatePicker'
import { useOwn } from '@/theme/own'
import { dayOf, noonOf } from './days'

const own = useOwn()

const props = defineProps<{ modelValue: string; min?: string; label: string }>()
const emit = defineEmits<{ pick: [day: string] }>()
const now = computed(() => noonOf(props.modelValue) ?? null)

function picked(day: unknown) {
  if (day instanceof Date) emit('pick', dayOf(day))
}
</script>

<template>
  <VDatePicker
    class="month"
    :model-value="now"
    :min="min ? noonOf(min) : undefined"
    :aria-label="label"
    color="primary"
    hide-header
    :first-day-of-week="own.week"
    width="296"
    data-test="calendar"
    @update:model-value="picked"
  />
</template>

<style scoped>
.month {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
}
.month :deep(.v-date-picker-month) {
  padding: 0 8px 8px;
}
.month :deep(.v-date-picker-month__days) {
  row-gap: 0;
}
.month :deep(.v-date-picker-month__day) {
  height: 36px;
}
.month :deep(.v-date-picker-controls) {
  padding-inline: 8px;
  height: 44px;
}
</style>
