<script setup lang="ts">
// A day: typed in one's own order of day and month, or picked from a calendar.
import { mdiCalendarBlankOutline } from '@mdi/js'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { dayText, readDay, typedLike } from './days'

const CalendarMonth = defineAsyncComponent(() => import('./CalendarMonth.vue'))

const props = defineProps<{
  modelValue: string | null | undefined
  label: string
  min?: string
  /** What stands there while nothing does; else how a day is written. */
  says?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [day: string] }>()

const text = ref('')
const open = ref(false)
const wrong = ref(false)
const hint = computed(() => `${dayText('2026-11-18')}, ${typedLike()}`)

watch(
  () => props.modelValue,
  (now) => {
    text.value = dayText(now ?? '')
    wrong.value = false
  },
  { immediate: true },
)

function commit() {
  if (text.value === dayText(props.modelValue ?? '')) return
  const day = text.value.trim() ? readDay(text.value) : ''
  wrong.value = day === undefined || (!!day && !!props.min && day < props.min)
  if (day !== undefined && !wrong.value) {
    text.value = dayText(day)
    emit('update:modelValue', day)
  }
}

function picked(day: string) {
  open.value = false
  emit('update:modelValue', day)
}
</script>

<template>
  <span class="date" :class="{ wrong }">
    <input
      v-model="text"
      :aria-label="label"
      :aria-invalid="wrong"
      :placeholder="says ?? hint"
      autocomplete="off"
      data-test="date"
      @change="commit"
      @keydown.alt.down.prevent="open = true"
    />
    <v-menu v-model="open" :close-on-content-click="false" location="bottom end">
      <template #activator="{ props: activator }">
        <button type="button" v-bind="activator" :aria-label="`${label}: pick from the calendar`">
          <v-icon :icon="mdiCalendarBlankOutline" size="18" />
        </button>
      </template>
      <CalendarMonth :model-value="modelValue ?? ''" :min="min" :label="label" @pick="picked" />
    </v-menu>
    <span v-if="wrong" class="fault-text" role="alert">{{
      min && readDay(text) ? `Not before ${dayText(min)}.` : `This is not a day. Write it like ${hint}.`
    }}</span>
  </span>
</template>

<style scoped>
.date {
  display: inline-grid;
  grid-template-columns: minmax(112px, 1fr) auto;
  align-items: stretch;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  max-width: 220px;
}
.date:focus-within {
  outline: 2px solid var(--moss);
  outline-offset: -1px;
}
.date.wrong {
  border-color: var(--fault);
}
.date input {
  border: 0;
  outline: 0;
  background: none;
  padding: 6px 8px;
  min-width: 0;
  min-height: 0;
}
.date button {
  border: 0;
  background: none;
  padding: 0 8px;
  color: var(--quiet);
  cursor: pointer;
}
.date button:hover {
  color: var(--moss);
}
.fault-text {
  grid-column: 1 / -1;
  padding: 2px 8px;
}
</style>
