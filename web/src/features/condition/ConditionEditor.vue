<script setup lang="ts">
// A condition as a list of tests, joined by all of or any of; a part may be such a list itself.
import PickOne from '@/features/menu/PickOne.vue'
import { computed } from 'vue'
import type { Condition, Table } from '@/api/types'
import { parts } from './checks'
import TestEditor from './TestEditor.vue'

const props = withDefaults(defineProps<{ table: Table; modelValue: Condition; depth?: number; lead?: string; nothing?: string }>(), {
  depth: 0,
  lead: 'Records where',
  nothing: 'Every record is shown. Add a condition to narrow it.',
})
const emit = defineEmits<{ 'update:modelValue': [condition: Condition] }>()

const list = computed(() => parts(props.modelValue))
const joined = computed(() => ('any' in props.modelValue ? 'any' : 'all'))

function put(next: Condition[], join = joined.value) {
  emit('update:modelValue', join === 'any' ? { any: next } : { all: next })
}

function replace(place: number, part: Condition) {
  put(list.value.map((old, n) => (n === place ? part : old)))
}

function newTest(): Condition {
  const first = props.table.fields[0]
  return { test: { path: first ? [first.id] : [], of: 'any', check: { is: 'filled' } } }
}
</script>

<template>
  <div class="condition" :class="{ inner: depth > 0 }">
    <p v-if="list.length > 1" class="join">
      {{ lead }}
      <PickOne
        :model-value="joined"
        aria-label="How the tests are joined"
        :items="[
          { value: 'all', title: 'all' },
          { value: 'any', title: 'any' },
        ]"
        @update:model-value="put(list, $event as 'all' | 'any')"
      />
      of these hold
    </p>
    <p v-else-if="!list.length && depth === 0" class="quiet join">{{ nothing }}</p>
    <div v-for="(part, place) in list" :key="place" class="part">
      <TestEditor v-if="'test' in part" :table="table" :model-value="part.test" @update:model-value="replace(place, { test: $event })" />
      <ConditionEditor
        v-else
        :table="table"
        :model-value="part"
        :depth="depth + 1"
        :lead="lead"
        @update:model-value="replace(place, $event)"
      />
      <button type="button" class="drop" aria-label="Take this condition out" @click="put(list.filter((_, n) => n !== place))">×</button>
    </div>
    <p class="more">
      <button type="button" data-test="add-test" @click="put([...list, newTest()])">+ condition</button>
      <button v-if="depth < 2 && list.length" type="button" @click="put([...list, { any: [newTest()] }])">+ group of conditions</button>
    </p>
  </div>
</template>

<style scoped>
.inner {
  border-left: 2px solid var(--line);
  padding-left: var(--gap-3);
  flex: 1;
}
.join {
  margin: 0 0 var(--gap-2);
}
.part {
  display: flex;
  gap: var(--gap-2);
  align-items: flex-start;
  margin-bottom: var(--gap-2);
}
.drop,
.more button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--moss);
  padding: 4px 6px;
}
.drop {
  color: var(--quiet);
  font-size: 16px;
}
.more {
  margin: 0;
  display: flex;
  gap: var(--gap-3);
}
</style>
