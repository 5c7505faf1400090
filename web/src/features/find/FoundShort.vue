<script setup lang="ts">
// The line one is at, in short: what its record holds, so that one sees whether it is the right one before it is opened.
import { computed } from 'vue'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'
import type { FoundLine } from './discovery'

const props = defineProps<{ line: FoundLine; place: string }>()
const { tracker } = useTracker()

/** Most facts that are told. */
const MOST = 9
const at = computed(() => props.line.record!)
const asked = useAsked(
  () => ['folio in short', at.value.tracker, at.value.table, at.value.record],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/records/{record}', { params: { path: at.value } })),
)
const table = computed(() =>
  tracker.value?.id === at.value.tracker ? tracker.value.tables.find((one) => one.id === at.value.table) : undefined,
)
const facts = computed(() => {
  const now = asked.told.value
  if (!now || !table.value) return []
  const fact = (field: number, cell: number) => ({
    field: table.value!.fields.find((one) => one.id === field),
    text: now.row.cells[cell]?.text ?? '',
  })
  const all = now.fields
    .map((field, cell) => fact(field, cell))
    .filter((one) => one.field && one.text && one.field.id !== table.value!.standing)
  return all.slice(0, MOST)
})
</script>

<template>
  <div class="short">
    <p class="quiet place">{{ [line.beside, place].filter(Boolean).join(', ') }}</p>
    <h2>{{ line.name }}</h2>
    <dl v-if="facts.length">
      <template v-for="fact in facts" :key="fact.field!.id">
        <dt>{{ fact.field!.name }}</dt>
        <dd>{{ fact.text }}</dd>
      </template>
    </dl>
    <p v-if="line.leftOut" class="out">The view from which you look leaves it out: {{ line.leftOut }}.</p>
    <p v-if="asked.trouble.value" class="quiet">{{ asked.trouble.value }}</p>
  </div>
</template>

<style scoped>
.place {
  margin: 0;
  font-size: 13px;
}
h2 {
  margin: 2px 0 var(--gap-3);
  font: 600 20px/1.25 var(--serif);
}
dl {
  display: grid;
  grid-template-columns: minmax(72px, 92px) 1fr;
  margin: 0;
  border-bottom: 1px solid var(--line);
}
dt,
dd {
  margin: 0;
  padding: 6px 0;
  border-top: 1px solid var(--line);
  overflow-wrap: anywhere;
}
dt {
  font-size: 12.5px;
  color: var(--quiet);
  padding-right: var(--gap-2);
}
dd {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  line-clamp: 3;
  overflow: hidden;
}
.out {
  border-left: 3px solid var(--copper);
  padding-left: var(--gap-3);
  color: var(--copper);
}
</style>
