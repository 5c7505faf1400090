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
    :model-value="chosen"
    :items="listed"
    :placeholder="hint"
    :disabled="disabled"
    :list-props="listProps"
    @update:model-value="choose"
  />
</template>

<style scoped>
.pick {
  display: inline-grid;
  flex: 0 1 auto;
  max-width: 100%;
  vertical-align: middle;
}
.pick :deep(.v-field) {
  --v-field-padding-start: 8px;
  --v-field-padding-end: 4px;
  --v-input-control-height: 32px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  font-size: inherit;
  box-shadow: none;
}
.pick :deep(.v-field--focused) {
  outline: 2px solid var(--moss);
  outline-offset: -1px;
}
.pick :deep(.v-field__input) {
  min-height: 30px;
  padding-block: 3px;
  align-items: center;
  font: inherit;
  letter-spacing: 0;
}
.pick :deep(.v-select__menu-icon) {
  color: var(--quiet);
  font-size: 16px;
  opacity: 1;
}
.said :deep(.v-field) {
  --v-field-padding-start: 0;
  --v-field-padding-end: 0;
  border: 0;
  border-bottom: 1px dashed var(--moss);
  border-radius: 0;
  background: none;
  color: var(--moss);
}
.said :deep(.v-field__input) {
  min-height: 0;
  padding-block: 0;
}
</style>
