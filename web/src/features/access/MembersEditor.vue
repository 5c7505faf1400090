<script setup lang="ts">
import type { Role } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ role: Role }>()
const emit = defineEmits<{ change: [members: number[]] }>()

function toggle(person: number, on: boolean) {
  const rest = props.role.role.members.filter((m) => m !== person)
  emit('change', on ? [...rest, person] : rest)
}
</script>

<template>
  <div class="members">
    <label v-for="person in currentTracker?.people ?? []" :key="person.id">
      <input
        type="checkbox"
        :checked="role.role.members.includes(person.id)"
        @change="toggle(person.id, ($event.target as HTMLInputElement).checked)"
      />
      {{ person.name }}
    </label>
  </div>
</template>

<style scoped>
.members {
  display: grid;
  gap: 6px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-3) var(--gap-4);
  color: var(--ink);
}
label {
  display: flex;
  gap: 8px;
  cursor: pointer;
}
input {
  accent-color: var(--moss);
}
</style>
