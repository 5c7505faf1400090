<script setup lang="ts">
// What makes a table's records somebody's own: having made them, an address, a person, or that the table holds the people.
import { computed, ref } from 'vue'
import type { Field, MineBy, Table } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'

const props = defineProps<{ table: Table; mine: MineBy }>()
const emit = defineEmits<{ keep: [mine: MineBy]; leave: [] }>()

const mine = ref<MineBy>({ ...props.mine })
const NOBODY = { value: null as number | null, title: 'no field' }
const fields = (fits: (field: Field) => boolean) => [
  NOBODY,
  ...props.table.fields.filter(fits).map((field) => ({ value: field.id as number | null, title: field.name })),
]
const addresses = computed(() => fields((field) => ['email', 'text'].includes(field.kind.type)))
const persons = computed(() => fields((field) => field.kind.type === 'person'))
/** Each field that says it, with what it means. */
const ways = computed(() => [
  { key: 'address' as const, says: 'It was sent in under their address, in', items: addresses.value },
  { key: 'entered_for' as const, says: 'They are the person in', items: persons.value },
  { key: 'own' as const, says: `They are this ${props.table.one} themselves, by their address in`, items: addresses.value },
])
</script>

<template>
  <form class="own" data-test="own-records" @submit.prevent="emit('keep', mine)" @keydown.esc="emit('leave')">
    <p class="says">One of the {{ table.many }} is somebody’s own where any of this holds:</p>
    <label class="made"><input v-model="mine.made" type="checkbox" data-test="own-made" /> They made it</label>
    <p v-for="way in ways" :key="way.key" class="way">
      <span>{{ way.says }}</span>
      <PickOne
        :model-value="mine[way.key] ?? null"
        said
        :aria-label="way.says"
        :data-test="`own-by-${way.key}`"
        :items="way.items"
        @update:model-value="mine = { ...mine, [way.key]: $event }"
      />
    </p>
    <p v-if="mine.own" class="says"
      >Conditions can then say <i>is my record</i> of what links to {{ table.many }}, and follow links from there.</p
    >
    <p class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn type="submit" color="primary" data-test="keep-own-records">See what it would do</v-btn>
    </p>
  </form>
</template>

<style scoped>
.own {
  display: grid;
  gap: var(--gap-3);
  width: min(460px, 94vw);
  padding: var(--gap-4);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
p {
  margin: 0;
}
.says {
  font: 15px/1.5 var(--serif);
  color: var(--quiet);
}
.made {
  display: flex;
  gap: 8px;
  min-height: 32px;
  align-items: center;
}
.way {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
