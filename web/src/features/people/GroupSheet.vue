<script setup lang="ts">
// A group: what it is called and who is in it. Whatever roles it holds, in any tracker, everybody in it holds.
import { onMounted, ref } from 'vue'
import { api, told } from '@/api/client'
import type { GroupLine, PersonLine, TeamDone } from '@/api/types'
import { useDoing } from '@/app/asking'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'

const props = defineProps<{ group?: GroupLine; people: PersonLine[] }>()
const emit = defineEmits<{ done: [done: TeamDone]; leave: [] }>()
const box = ref<HTMLInputElement>()
onMounted(() => box.value?.focus())
const name = ref(props.group?.name ?? '')
const members = ref<number[]>([...(props.group?.members ?? [])])
const { trouble, busy, attempt } = useDoing()

async function keep() {
  const body = { name: name.value, members: members.value }
  const id = props.group?.id
  const done = await attempt(() =>
    id === undefined
      ? told(api.POST('/api/team/groups', { body }))
      : told(api.PUT('/api/team/groups/{group}', { params: { path: { group: id } }, body })),
  )
  if (done) emit('done', done)
}

async function drop() {
  const id = props.group?.id
  if (id === undefined) return
  const done = await attempt(() => told(api.DELETE('/api/team/groups/{group}', { params: { path: { group: id } } })))
  if (done) emit('done', done)
}
</script>

<template>
  <RehearsalPanel
    :title="group ? `The group ${group.name}` : 'A new group'"
    :act="group ? 'Keep the group' : 'Make the group'"
    :busy="busy"
    :blocked="!name.trim()"
    :trouble="trouble"
    @act="keep"
    @leave="emit('leave')"
  >
    <p class="name">
      <label for="group-name">Called</label>
      <input id="group-name" ref="box" v-model="name" data-test="group-name" />
      <button v-if="group" type="button" class="link away" data-test="drop-group" @click="drop">Take the group away</button>
    </p>
    <div class="members">
      <label v-for="one in people" :key="one.person.id">
        <input v-model="members" type="checkbox" :value="one.person.id" :data-member="one.person.name" />
        {{ one.person.name }} <span class="quiet">{{ one.person.left ? 'has left' : one.about }}</span>
      </label>
    </div>
    <p class="quiet">Whoever is in it holds its roles at once, in every tracker; whoever is taken out loses them, on open screens too.</p>
  </RehearsalPanel>
</template>

<style scoped>
.name {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px var(--gap-3);
  margin: 0 0 var(--gap-2);
}
.name input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 10px;
}
.away {
  margin-left: auto;
}
.members {
  columns: 240px;
  max-height: 34vh;
  overflow-y: auto;
}
.members label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
  break-inside: avoid;
  cursor: pointer;
}
.members input {
  accent-color: var(--moss);
}
@media (max-width: 700px) {
  .members label,
  .away {
    min-height: 44px;
  }
}
</style>
