<script setup lang="ts">
// A moment of a person's own clock: a day, typed or picked, and a time of it.
import { computed } from 'vue'
import DatePick from './DatePick.vue'

/** `YYYY-MM-DDTHH:MM`, or nothing. */
const moment = defineModel<string | null | undefined>({ required: true })
defineProps<{ label: string }>()

const day = computed(() => moment.value?.slice(0, 10) ?? '')
const time = computed(() => moment.value?.slice(11, 16) ?? '')

const put = (day: string, time: string) => (moment.value = day ? `${day}T${time || '00:00'}` : null)
</script>

<template>
  <span class="moment">
    <DatePick :model-value="day" :label="label" @update:model-value="put($event, time)" />
    <input
      v-if="day"
      type="time"
      :value="time"
      :aria-label="`${label}: time of day`"
      @change="put(day, ($event.target as HTMLInputElement).value)"
    />
  </span>
</template>

<style scoped>
.moment {
  display: inline-flex;
  gap: var(--gap-1, 4px);
}
</style>
