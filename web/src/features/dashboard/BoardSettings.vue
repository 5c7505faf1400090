<script setup lang="ts">
// What holds of a whole dashboard: what it is called and for, to whom it is open, and in how many columns it stands.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Dashboard, DashboardOpen } from '@/api/types'
import { useAsked } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'

const props = defineProps<{ board: Dashboard; busy: boolean; trouble: string }>()
const emit = defineEmits<{ keep: [part: Partial<Dashboard>]; remove: []; leave: [] }>()

const name = ref(props.board.name)
const about = ref(props.board.about ?? '')
const columns = ref(props.board.columns)
const open = ref<DashboardOpen>(props.board.open ?? 'own')
const asking = ref(false)
const team = useAsked(
  () => ['board-groups'],
  () => told(api.GET('/api/team')),
)
const to = computed(() => (typeof open.value === 'object' ? 'groups' : open.value))
const groups = computed(() => (typeof open.value === 'object' ? open.value.groups : []))
const choose = (next: string) => (open.value = next === 'groups' ? { groups: [...groups.value] } : next === 'team' ? 'team' : 'own')
const turn = (group: number, on: boolean) =>
  (open.value = { groups: on ? [...groups.value, group] : groups.value.filter((one) => one !== group) })
const OPEN = [
  { value: 'own', title: 'for me alone' },
  { value: 'groups', title: 'open to groups' },
  { value: 'team', title: 'open to everybody of the team' },
]
</script>

<template>
  <v-card class="settings" data-test="board-sheet">
    <h2>This dashboard</h2>
    <v-text-field v-model="name" aria-label="Name" placeholder="Name" data-test="board-name" hide-details />
    <v-text-field v-model="about" aria-label="What it is for" placeholder="What it is for" data-test="board-about" hide-details />
    <p class="says"
      >It is
      <PickOne said :model-value="to" aria-label="Open to" data-test="board-open" :items="OPEN" @update:model-value="choose($event)" />
      and stands in
      <PickOne
        v-model="columns"
        said
        aria-label="Columns"
        data-test="board-columns"
        :items="[1, 2, 3].map((n) => ({ value: n, title: n === 1 ? 'one column' : `${n} columns` }))"
      />. Each reader sees in it what their roles open to them.</p
    >
    <div v-if="to === 'groups'" class="groups">
      <label v-for="group in team.told.value?.groups ?? []" :key="group.id"
        ><input
          type="checkbox"
          :checked="groups.includes(group.id)"
          @change="turn(group.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ group.name }}</label
      >
    </div>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="acts">
      <v-btn color="primary" :loading="busy" data-test="board-keep" @click="emit('keep', { name, about, open, columns })">Keep it so</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn v-if="!asking" variant="text" class="away" data-test="board-remove" @click="asking = true">Take it away</v-btn>
      <v-btn v-else variant="text" color="error" class="away" data-test="board-really" @click="emit('remove')">Take it away for all</v-btn>
    </p>
  </v-card>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-3);
  padding: var(--gap-5);
}
h2,
p {
  margin: 0;
}
h2 {
  font: 600 19px/1.3 var(--serif);
}
.says {
  font: 16px/1.6 var(--serif);
}
.groups {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-4);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
}
.away {
  margin-left: auto;
}
</style>
