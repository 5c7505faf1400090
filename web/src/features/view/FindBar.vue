<script setup lang="ts">
// Over the records: words that are looked for among them, in one field or in all that are shown, and the way from one to the next.
import { nextTick, ref, watch } from 'vue'
import type { Field } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import type { Finding } from './finding'

const props = defineProps<{ finding: Finding; fields: Field[] }>()
const emit = defineEmits<{ leave: [] }>()
const { open, text, field, says, trouble, step, close, count } = props.finding

const input = ref<HTMLInputElement>()
async function focus() {
  await nextTick()
  input.value?.focus()
  input.value?.select()
}
watch(open, (now) => now && void focus(), { immediate: true })
function leave() {
  close()
  emit('leave')
}
function keys(event: KeyboardEvent) {
  if (event.key === 'Enter') step(event.shiftKey ? -1 : 1)
  else if (event.key === 'Escape') leave()
  else return
  event.preventDefault()
  event.stopPropagation()
}
defineExpose({ focus })
</script>

<template>
  <search v-if="open" class="find" aria-label="Find here" data-test="find-bar">
    <label>
      <span>Where does it say</span>
      <input
        ref="input"
        v-model="text"
        class="boxed"
        maxlength="200"
        aria-label="Words to find here"
        data-test="find-words"
        @keydown="keys"
      />
    </label>
    <span>in</span>
    <PickOne
      said
      :model-value="field"
      aria-label="Where to look"
      data-test="find-field"
      :items="[{ value: null, title: 'any field' }, ...named(fields)]"
      @update:model-value="field = $event"
    />
    <span class="quiet" role="status" data-test="find-says">{{ trouble || says }}</span>
    <span class="steps">
      <button type="button" class="link" :disabled="!count" data-test="find-back" title="Shift Enter" @click="step(-1)">back</button>
      <button type="button" class="link" :disabled="!count" data-test="find-next" title="Enter" @click="step(1)">next</button>
      <button type="button" class="link" data-test="find-close" title="Escape" @click="leave">close</button>
    </span>
  </search>
</template>

<style scoped>
.find {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-3);
  align-items: baseline;
  padding: 4px 0 6px;
  font: 16px/1.6 var(--serif);
}
label {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: baseline;
}
input {
  width: 200px;
  font: 14px var(--sans);
  padding: 3px 8px;
}
.quiet {
  font: 13px var(--sans);
}
.steps {
  display: inline-flex;
  gap: var(--gap-3);
  margin-left: auto;
}
.steps button:disabled {
  color: var(--quiet);
  cursor: default;
}
@media (pointer: coarse) {
  .steps button,
  input {
    min-height: 40px;
  }
}
</style>
