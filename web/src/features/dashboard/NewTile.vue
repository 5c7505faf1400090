<script setup lang="ts">
// What comes onto the page: what it shall be, and of which table.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Tile } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { begun, crosses, needsTable, SORTS, type Sort } from './board'

const props = defineProps<{ keyOf: number }>()
const emit = defineEmits<{ made: [tile: Tile]; leave: [] }>()
const { trouble, busy, attempt } = useDoing()

const sort = ref<Sort>('statement')
const trackers = useAsked(
  () => ['trackers'],
  () => told(api.GET('/api/trackers')),
)
const tracker = ref<number>()
watch(trackers.told, (all) => (tracker.value ??= all?.[0]?.id), { immediate: true })
const structure = useAsked(
  () => ['tracker-of-tile', tracker.value],
  () =>
    tracker.value ? told(api.GET('/api/trackers/{tracker}', { params: { path: { tracker: tracker.value } } })) : Promise.resolve(null),
)
const table = ref<number>()
watch(structure.told, (now) => (table.value = now?.tables[0]?.id), { immediate: true })
const chosen = computed(() => structure.told.value?.tables.find((one) => one.id === table.value))

async function make() {
  await attempt(async () => {
    const path = { tracker: tracker.value ?? 0, table: table.value ?? 0 }
    // What a cross-tab of the table begins as is the server’s to say.
    const body = { query: { fields: chosen.value ? [{ field: chosen.value.standing, width: 200 }] : [] }, slices: [] }
    const crossed = crosses(sort.value)
    const asked = crossed ? await told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path }, body })) : undefined
    const offer = asked?.shapes.find((one) => one.name === 'cross-tab')
    if (crossed && !offer?.begins) throw new Error(offer?.missing || 'This table has nothing by which it could be counted.')
    emit('made', {
      key: props.keyOf,
      title: '',
      width: sort.value === 'lines' ? 2 : 1,
      shows: begun(sort.value, path.tracker, chosen.value, offer?.begins),
    })
  })
}
</script>

<template>
  <v-card class="new-tile" data-test="new-tile">
    <h2>What comes onto the page?</h2>
    <div class="sorts" role="radiogroup" aria-label="What it is">
      <button
        v-for="one in SORTS"
        :key="one.sort"
        type="button"
        role="radio"
        :aria-checked="sort === one.sort"
        :data-sort="one.sort"
        @click="sort = one.sort"
      >
        <b>{{ one.title }}</b>
        <span class="quiet">{{ one.about }}</span>
      </button>
    </div>
    <p v-if="needsTable(sort)" class="says"
      >of <PickOne v-model="tracker" said aria-label="Tracker" data-test="tile-tracker" :items="named(trackers.told.value ?? [])" />,
      <PickOne v-model="table" said aria-label="Table" data-test="tile-table" :items="named(structure.told.value?.tables ?? [])"
    /></p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="acts">
      <v-btn color="primary" :loading="busy" :disabled="needsTable(sort) && !chosen" data-test="tile-begin" @click="make"
        >Begin with it</v-btn
      >
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
    </p>
  </v-card>
</template>

<style scoped>
.new-tile {
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
.sorts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(170px, 1fr));
  gap: var(--gap-2) var(--gap-4);
}
.sorts button {
  display: grid;
  gap: 2px;
  align-content: start;
  padding: var(--gap-2);
  border: 0;
  border-top: 2px solid var(--line);
  background: none;
  color: inherit;
  font: 14px/1.4 var(--sans);
  text-align: left;
  cursor: pointer;
}
.sorts button[aria-checked='true'] {
  border-top-color: var(--moss);
  background: var(--moss-soft);
}
.says {
  font: 16px/1.6 var(--serif);
}
.acts {
  display: flex;
  gap: var(--gap-2);
}
</style>
