<script setup lang="ts">
// An area: what it is called and for, in which order its trackers stand, and to which groups all of them are open.
import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import { api, told } from '@/api/client'
import type { AreaMoves, AreaRight, AreaView, GroupLine, TeamDone } from '@/api/types'
import { useDoing } from '@/app/asking'
import WhoMoves from '@/features/access/WhoMoves.vue'
import PickOne from '@/features/menu/PickOne.vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { moved } from './home'

const props = defineProps<{
  /** Nothing: a new one. */
  area?: AreaView
  /** All of them, in their order. */
  areas: readonly AreaView[]
  groups: readonly GroupLine[]
}>()
const emit = defineEmits<{ done: [done: TeamDone]; leave: [] }>()

const box = ref<HTMLInputElement>()
onMounted(() => box.value?.focus())
const draft = ref({
  name: props.area?.name ?? '',
  about: props.area?.about ?? '',
  trackers: props.area?.trackers.map((one) => one.id) ?? [],
  opens: { ...props.area?.area?.opens } as Record<string, AreaRight>,
})
const nameOf = (tracker: number) => props.area?.trackers.find((one) => one.id === tracker)?.name ?? ''
const RIGHTS: { value: AreaRight | null; title: string }[] = [
  { value: null, title: 'is not let in by it' },
  { value: 'look', title: 'looks at everything here' },
  { value: 'work', title: 'works in everything here' },
]
function open(group: number, right: AreaRight | null) {
  const { [String(group)]: _, ...others } = draft.value.opens
  draft.value.opens = right ? { ...others, [String(group)]: right } : others
}

const { trouble, busy, attempt } = useDoing()
const looking = useDoing()
const moves = ref<AreaMoves[]>([])
const opensElse = computed(() => JSON.stringify(draft.value.opens) !== JSON.stringify(props.area?.area?.opens ?? {}))
const path = computed(() => ({ params: { path: { area: props.area?.id ?? 0 } } }))
watchDebounced(
  () => draft.value.opens,
  async () => {
    if (!props.area || !opensElse.value) {
      looking.overtake()
      moves.value = []
      return
    }
    const would = await looking.newest(() => told(api.POST('/api/team/areas/{area}/rehearsal', { ...path.value, body: draft.value })))
    if (would) moves.value = would
  },
  { debounce: 200, deep: true },
)

async function keep() {
  const { name, about } = draft.value
  const done = await attempt(() =>
    props.area
      ? told(api.PUT('/api/team/areas/{area}', { ...path.value, body: draft.value }))
      : told(api.POST('/api/team/areas', { body: { name, about } })),
  )
  if (done) emit('done', done)
}
async function drop() {
  const done = await attempt(() => told(api.DELETE('/api/team/areas/{area}', path.value)))
  if (done) emit('done', done)
}
const place = computed(() => props.areas.findIndex((one) => one.id === props.area?.id))
async function shift(by: number) {
  const order = moved(
    props.areas.map((one) => one.id),
    place.value,
    by,
  )
  const done = await attempt(() => told(api.PUT('/api/team/areas', { body: order })))
  if (done) emit('done', done)
}
</script>

<template>
  <RehearsalPanel
    :title="area ? `The area ${area.name}` : 'A new area'"
    :act="area ? 'Keep the area' : 'Make the area'"
    :busy="busy"
    :blocked="!draft.name.trim()"
    :trouble="trouble || looking.trouble.value"
    @act="keep"
    @leave="emit('leave')"
  >
    <div class="facts">
      <label>Called <input ref="box" v-model="draft.name" data-test="area-name" /></label>
      <label class="wide">What it is for <input v-model="draft.about" data-test="area-about" /></label>
    </div>
    <div v-if="area" class="columns">
      <div>
        <p class="quiet">In this order</p>
        <p v-for="(tracker, n) in draft.trackers" :key="tracker" class="one">
          <span>{{ nameOf(tracker) }}</span>
          <button :disabled="n === 0" :aria-label="`${nameOf(tracker)} further up`" @click="draft.trackers = moved(draft.trackers, n, -1)"
            >↑</button
          >
          <button
            :disabled="n === draft.trackers.length - 1"
            :aria-label="`${nameOf(tracker)} further down`"
            @click="draft.trackers = moved(draft.trackers, n, 1)"
            >↓</button
          >
        </p>
        <p v-if="!draft.trackers.length" class="quiet">Nothing lies in it. A tracker is put here from its own page, under <i>More</i>.</p>
      </div>
      <div>
        <p class="quiet">Open to, beside what roles give in each tracker</p>
        <p v-for="group in groups" :key="group.id" class="one" :data-group="group.name">
          <span>{{ group.name }}</span>
          <PickOne
            said
            :model-value="draft.opens[String(group.id)] ?? null"
            :aria-label="`What ${group.name} may do here`"
            :items="RIGHTS"
            @update:model-value="open(group.id, $event)"
          />
        </p>
        <p v-if="!groups.length" class="quiet">The team has no groups yet. They are made under <i>People</i>.</p>
      </div>
    </div>
    <template v-for="one in moves" :key="one.tracker">
      <h3>{{ one.name }}</h3>
      <p class="says">{{ one.rehearsal.says.join(' ') }}</p>
      <WhoMoves :people="one.rehearsal.people" :name="(table) => one.tables[String(table)] ?? ''" />
    </template>
    <p v-if="area && opensElse && !moves.length && !looking.busy.value && !looking.trouble.value" class="quiet" data-test="nobody-moves"
      >Nobody gains or loses anything by it now.</p
    >
    <template #more>
      <template v-if="area">
        <button v-if="place > 0" class="link" @click="shift(-1)">List it earlier</button>
        <button v-if="place < areas.length - 1" class="link" @click="shift(1)">List it later</button>
        <button class="link away" data-test="drop-area" @click="drop">Take the area away</button>
      </template>
    </template>
  </RehearsalPanel>
</template>

<style scoped>
.facts,
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-5);
}
label {
  display: grid;
  color: var(--quiet);
  font-size: 13px;
}
.wide {
  flex: 1;
  min-width: 240px;
}
input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 5px 10px;
  font-size: 14px;
}
.columns > div {
  flex: 1;
  min-width: 260px;
}
.columns p {
  margin: 4px 0;
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: center;
  font: 16px var(--serif);
}
.one button:not([role]) {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  min-width: 28px;
}
.one button:disabled {
  color: var(--line-strong);
  cursor: default;
}
h3 {
  font-size: 15px;
  margin: var(--gap-2) 0 0;
}
.says {
  font: 16px/1.5 var(--serif);
  margin: 0;
}
</style>
