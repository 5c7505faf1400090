<script setup lang="ts">
// A text with values: typed, with fields in braces, and a value put in where the cursor stands.
import { computed, nextTick, ref } from 'vue'
import type { Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { selectAll } from '@/features/condition/selectAll'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{
  table: Table
  text: string
  label: string
  fault?: string
  /** It has several lines. */
  long?: boolean
  /** Values of a record can be put in. */
  values: boolean
}>()
const emit = defineEmits<{ change: [text: string] }>()
const { tracker } = useTracker()
const field = ref<{ $el: HTMLElement }>()
const typed = () => field.value?.$el.querySelector<HTMLInputElement | HTMLTextAreaElement>('textarea:not([aria-hidden]), input')

/** Every value, and of days their months too. */
const items = computed(() => {
  if (!tracker.value) return []
  return paths(tracker.value, props.table).flatMap(({ name, field }) => {
    const braced = name.split(' → ').join('.')
    const day = ['date', 'date_time', 'range'].includes(field.shows.type)
    const whole = { title: name, value: `{${braced}}` }
    return day ? [whole, { title: `the month of ${name}`, value: `{month of ${braced}}` }] : [whole]
  })
})
async function insert(value: string | null) {
  const box = typed()
  if (!value) return
  const [from, to] = [box?.selectionStart ?? props.text.length, box?.selectionEnd ?? props.text.length]
  emit('change', props.text.slice(0, from) + value + props.text.slice(to))
  await nextTick()
  box?.focus()
  box?.setSelectionRange(from + value.length, from + value.length)
}
</script>

<template>
  <div class="words">
    <v-textarea
      v-if="long"
      ref="field"
      :model-value="text"
      :aria-label="label"
      rows="4"
      :error-messages="fault"
      data-test="words"
      @update:model-value="emit('change', $event)"
    />
    <v-text-field
      v-else
      ref="field"
      :model-value="text"
      :aria-label="label"
      :error-messages="fault"
      data-test="words"
      @update:model-value="emit('change', $event)"
    />
    <v-autocomplete
      v-if="values"
      :model-value="null"
      :items="items"
      placeholder="Put a value in"
      aria-label="Put a value in"
      data-test="put-value"
      hide-details
      @focus="selectAll"
      @update:model-value="insert"
    />
  </div>
</template>

<style scoped>
.words {
  display: grid;
  gap: var(--gap-2);
  width: min(460px, 86vw);
}
</style>
