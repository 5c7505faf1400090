<script setup lang="ts">
// Who holds a role: people by themselves, and groups of the team, which hold it for whoever is in them.
import { computed } from 'vue'
import type { Role } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ role: Role }>()
const emit = defineEmits<{ change: [held: { members: number[] } | { groups: number[] }] }>()

const members = computed(() => props.role.role.members)
const groups = computed(() => props.role.role.groups ?? [])
/** Whoever has left is there only to be taken out. */
const people = computed(() => (currentTracker.value?.people ?? []).filter((p) => !p.left || members.value.includes(p.id)))

const toggled = (list: readonly number[], id: number, on: boolean) => [...list.filter((one) => one !== id), ...(on ? [id] : [])]
</script>

<template>
  <div class="members">
    <template v-if="currentTracker?.groups.length">
      <p class="quiet">Groups</p>
      <label v-for="group in currentTracker.groups" :key="`g${group.id}`">
        <input
          type="checkbox"
          :checked="groups.includes(group.id)"
          :data-group="group.name"
          @change="emit('change', { groups: toggled(groups, group.id, ($event.target as HTMLInputElement).checked) })"
        />
        {{ group.name }}
      </label>
      <p class="quiet">People by themselves</p>
    </template>
    <label v-for="person in people" :key="person.id">
      <input
        type="checkbox"
        :checked="members.includes(person.id)"
        @change="emit('change', { members: toggled(members, person.id, ($event.target as HTMLInputElement).checked) })"
      />
      {{ person.name }}<span v-if="person.left" class="quiet">has left</span>
    </label>
  </div>
</template>

<style scoped>
.members {
  display: grid;
  gap: 6px;
  max-height: 70vh;
  overflow-y: auto;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-3) var(--gap-4);
  color: var(--ink);
}
p {
  margin: 0;
  font-size: 12.5px;
}
label {
  display: flex;
  gap: 8px;
  cursor: pointer;
}
input {
  accent-color: var(--moss);
}
@media (max-width: 700px) {
  label {
    min-height: 44px;
    align-items: center;
  }
}
</style>
