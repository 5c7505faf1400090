<script setup lang="ts">
// What a phrase of a section's sentence opens.
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Section, Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import { pruned } from '@/features/condition/checks'
import RuleEditor from '@/features/condition/RuleEditor.vue'

const props = defineProps<{ at: string; section: Section; table: Table; tracker: number }>()
const emit = defineEmits<{ set: [to: Partial<Section>, done: boolean]; close: [] }>()

/** *two*, *closed*, *when* or *not_for*. */
const part = computed(() => props.at.split('/')[3] ?? '')
const ways = computed(() =>
  part.value === 'two'
    ? [
        { title: 'In one column', to: { two: false } },
        { title: 'In two columns, where there is room', to: { two: true } },
      ]
    : [
        { title: 'Open', to: { closed: false } },
        { title: 'Closed until somebody opens it', to: { closed: true } },
      ],
)
const asked = useAsked(
  () => ['roles', props.tracker],
  () => told(api.GET('/api/trackers/{tracker}/roles', { params: { path: { tracker: props.tracker } } })),
)
const roles = computed(() => asked.told.value ?? [])

function turn(role: number, on: boolean) {
  const rest = props.section.not_for.filter((one) => one !== role)
  emit('set', { not_for: on ? [...rest, role] : rest }, false)
}
</script>

<template>
  <div v-if="part === 'two' || part === 'closed'" class="ways">
    <button v-for="way in ways" :key="way.title" type="button" @click="emit('set', way.to, true)">{{ way.title }}</button>
  </div>
  <template v-else-if="part === 'when'">
    <RuleEditor
      :model-value="section.when"
      :table="table"
      :lead="`It stands there where`"
      nothing="It stands there always. Add a condition, so that it comes and goes."
      @update:model-value="emit('set', { when: pruned($event) }, false)"
    />
    <p class="done"><v-btn variant="text" size="small" data-test="phrase-done" @click="emit('close')">Done</v-btn></p>
  </template>
  <div v-else class="ways">
    <p class="quiet">Put away for people who hold no other role. What they may read is said by their role.</p>
    <label v-for="{ role } in roles" :key="role.id">
      <input
        type="checkbox"
        :checked="section.not_for.includes(role.id)"
        @change="turn(role.id, ($event.target as HTMLInputElement).checked)"
      />
      {{ role.name }}
    </label>
    <p v-if="asked.trouble.value" class="quiet">The roles of this tracker are told to its stewards.</p>
    <p class="done"><v-btn variant="text" size="small" data-test="phrase-done" @click="emit('close')">Done</v-btn></p>
  </div>
</template>

<style scoped>
.ways {
  display: grid;
  gap: 4px;
  max-width: 320px;
}
.ways > button {
  border: 0;
  background: none;
  text-align: left;
  padding: 6px 8px;
  cursor: pointer;
}
.ways > button:hover {
  background: var(--moss-soft);
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
input {
  accent-color: var(--moss);
}
p {
  margin: 0 0 4px;
  font-size: 13px;
}
.done {
  text-align: right;
}
</style>
