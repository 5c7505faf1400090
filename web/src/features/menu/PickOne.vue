<script setup lang="ts" generic="T">
// Choosing one of a short list, among words or in settings. What is chosen may be anything, also nothing.
import { computed, useAttrs } from 'vue'
import type { PickItem } from './pick'

const props = defineProps<{
  modelValue?: T
  items: readonly PickItem<T>[]
  /** What stands there while nothing of the list is chosen. */
  hint?: string
  disabled?: boolean
  /** Whether it stands in a sentence, as a phrase of it. */
  said?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: T] }>()
defineOptions({ inheritAttrs: false })

const attrs = useAttrs()
// Values go by their places: no two of them look alike then, and *nothing* is a value too.
const listed = computed(() => {
  let group = ''
  return props.items.flatMap((item, place) => {
    const one = { title: item.title, value: place }
    if (!item.group || item.group === group) return [one]
    group = item.group
    return [{ type: 'subheader', title: group, value: `group ${group}` }, one]
  })
})
const chosen = computed(() => {
  const place = props.items.findIndex((item) => item.value === props.modelValue)
  return place < 0 ? null : place
})
const listProps = computed(() => ({ 'aria-label': String(attrs['aria-label'] ?? 'What can be chosen'), class: 'pick-list' }))

function choose(place: number | null) {
  const item = props.items[place ?? -1]
  if (item && item.value !== props.modelValue) emit('update:modelValue', item.value)
}
</script>

<template>
  <v-select
    v-bind="attrs"
    class="pick"
    :class="{ said }"
    :style="chosen === null && hint ? { minWidth: `min(${hint.length + 5}ch, 100%)` } : undefined"
    :model-value="chosen"
    :items="listed"
    :placeholder="hint"
    :disabled="disabled"
    :list-props="listProps"
    @update:model-value="choose"
  />
</template>
