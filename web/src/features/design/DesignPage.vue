<script setup lang="ts">
// All fields of a table at once: name, kind, help, what uses it. The order is the table's own.
import { figure } from '@/theme/own'
import PickOne from '@/features/menu/PickOne.vue'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { VueDraggable } from 'vue-draggable-plus'
import type { DesignField } from '@/api/types'
import { useDoing } from '@/app/asking'
import { facts, isKept } from '@/features/cell/kinds'
import { useTracker } from '@/features/tracker/tracker'
import FieldPanel from './FieldPanel.vue'
import { useDesign } from './design'
import { useVocabulary } from '@/features/condition/vocabulary'

const { tracker: currentTracker } = useTracker()
const { kindName } = useVocabulary()

const route = useRoute()
const router = useRouter()
const tracker = computed(() => Number(route.params.tracker))
const tableId = computed(() => Number(route.params.table))
const at = computed(() => ({ tracker: tracker.value, table: tableId.value }))
const steps = useDesign(tracker, tableId)
const { design } = steps
const doing = useDoing()
const { trouble } = doing
const open = computed(() => {
  const { field } = route.query
  return field === 'new' ? 'new' : design.value?.fields.find((f) => f.field.id === Number(field))?.field.id
})
const rows = ref<DesignField[]>([])
const kept = computed(() => (design.value?.fields ?? []).filter((f) => isKept(f.field as never)))
const names = ref({ name: '', one: '', heading: '', standing: 0, beside: null as number | null })

watch(
  design,
  (now) => {
    rows.value = (now?.fields ?? []).filter((f) => !isKept(f.field as never))
    if (now) names.value = { name: now.name, one: now.one, heading: now.heading, standing: now.standing, beside: now.beside ?? null }
  },
  { immediate: true },
)

function show(field: number | 'new' | undefined) {
  void router.replace({ query: { ...route.query, field } })
}

async function attempt(work: () => Promise<unknown>) {
  await doing.attempt(work)
  // Rows that were dragged stand where they stood.
  if (doing.trouble.value) await steps.read()
}

/** The row at this place stands where it was dropped. */
function placed(place: number) {
  const moved = rows.value[place]
  const next = rows.value[place + 1] ?? kept.value[0]
  if (moved) void attempt(() => steps.move(moved.field.id, next?.field.id ?? null))
}

function step(place: number, by: number) {
  const to = place + by
  if (to < 0 || to >= rows.value.length) return
  const [moved] = rows.value.splice(place, 1)
  rows.value.splice(to, 0, moved!)
  placed(to)
}

const saveNames = () => attempt(() => steps.name(names.value))
const changedNames = computed(
  () =>
    !!design.value &&
    JSON.stringify(names.value) !==
      JSON.stringify({
        name: design.value.name,
        one: design.value.one,
        heading: design.value.heading,
        standing: design.value.standing,
        beside: design.value.beside ?? null,
      }),
)

async function dropTable() {
  await attempt(async () => {
    await steps.drop()
    await router.push({ name: 'tracker', params: { tracker: tracker.value } })
  })
}
const dropping = ref(false)
const standings = computed(() => (design.value?.fields ?? []).filter((f) => !['files', 'button'].includes(f.field.kind.type)))
</script>

<template>
  <div class="split" :class="{ open }">
    <main v-if="design && currentTracker?.builds" class="page">
      <p class="over">
        <router-link :to="{ name: 'view', params: at }">{{ design.name }}</router-link>, its fields
      </p>
      <h1>How {{ design.name.toLowerCase() }} are kept</h1>
      <p class="sentence">
        A table of <input v-model="names.name" aria-label="Name of the table" data-test="table-name" />; one of them is a
        <input v-model="names.one" aria-label="Name of one record" data-test="table-one" />, named by
        <PickOne
          v-model="names.standing"
          said
          aria-label="What names a record"
          :items="standings.map((one) => ({ value: one.field.id, title: one.field.name }))"
        />
        and told apart by
        <PickOne
          v-model="names.beside"
          said
          aria-label="What tells records apart"
          :items="[{ value: null, title: 'nothing more' }, ...standings.map((one) => ({ value: one.field.id, title: one.field.name }))]"
        />, standing under <input v-model="names.heading" aria-label="Heading" placeholder="no heading" />.
        <v-btn v-if="changedNames" size="small" color="primary" data-test="keep-names" @click="saveNames">Keep</v-btn>
      </p>
      <p v-if="trouble || steps.trouble.value" class="fault-text" role="alert">{{ trouble || steps.trouble.value }}</p>
      <div class="fields" role="table" :aria-label="`Fields of ${design.name}`">
        <div class="row heads" role="row">
          <span role="columnheader" /><span role="columnheader">Field</span><span role="columnheader">Kind</span
          ><span role="columnheader">What it is</span><span role="columnheader">Filled</span><span role="columnheader">Used</span>
        </div>
        <VueDraggable v-model="rows" handle=".grip" :animation="120" @end="placed($event.newIndex ?? 0)">
          <div
            v-for="(one, place) in rows"
            :key="one.field.id"
            class="row"
            role="row"
            :class="{ at: open === one.field.id }"
            :data-field="one.field.name"
          >
            <span role="cell"
              ><button
                class="grip"
                :aria-label="`Move ${one.field.name}; arrow keys move it`"
                @keydown.up.prevent="step(place, -1)"
                @keydown.down.prevent="step(place, 1)"
                >⋮</button
              ></span
            >
            <span role="cell"
              ><button class="name" @click="show(one.field.id)">{{ one.field.name }}</button
              ><span v-if="one.field.required" class="quiet mark">required</span></span
            >
            <span role="cell" class="quiet"
              ><v-icon :icon="facts(one.field as never).icon" size="15" /> {{ kindName(one.field.kind.type)
              }}<template v-if="one.field.copies">, copied</template></span
            >
            <span role="cell" class="quiet help">{{ one.field.help }}</span>
            <span role="cell" class="quiet">{{ figure(one.filled) }}</span>
            <span role="cell" class="quiet">{{ one.used }}</span>
          </div>
        </VueDraggable>
      </div>
      <p class="more">
        <v-btn color="primary" data-test="new-field" @click="show('new')">Add field</v-btn>
        <router-link :to="{ name: 'import', params: { tracker }, query: { into: tableId } }">Add records from a file</router-link>
      </p>
      <p class="quiet small"
        >Every record also keeps {{ kept.map((f) => f.field.name.toLowerCase()).join(', ') }}; a view shows them when asked.</p
      >
      <section v-if="design.binned.length" class="bin">
        <h3>In the bin</h3>
        <p v-for="one in design.binned" :key="one.field!">
          {{ one.name }} <span class="quiet">removed {{ one.at }}</span>
          <button class="link" @click="attempt(() => steps.restore(one.field!))">Bring it back</button>
        </p>
      </section>
      <section class="bin">
        <button v-if="!dropping" class="link" data-test="drop-table" @click="dropping = true">Remove this table…</button>
        <p v-else>
          Its records, views and forms go into the bin with it, and its links leave the other tables.
          <v-btn size="small" color="error" data-test="drop-table-yes" @click="dropTable">Remove {{ design.name.toLowerCase() }}</v-btn>
          <v-btn size="small" variant="text" @click="dropping = false">Leave it</v-btn>
        </p>
      </section>
    </main>
    <main v-else-if="!currentTracker?.builds || steps.trouble.value" class="page">
      <h1>The fields of this table are not open to you</h1>
      <p class="quiet">Only the tracker’s steward and builders change fields.</p>
    </main>
    <FieldPanel
      v-if="open && design"
      :key="String(open)"
      :at="at"
      :steps="steps"
      :field="open === 'new' ? undefined : open"
      @close="show(undefined)"
      @made="show($event)"
    />
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  height: calc(100dvh - var(--band));
}
.split.open {
  grid-template-columns: minmax(0, 1fr) minmax(360px, 30%);
}
.page {
  padding: var(--gap-3) var(--gap-5) 60px;
  overflow-y: auto;
  width: 100%;
  max-width: 1180px;
  margin: 0 auto;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  font-size: 26px;
}
.sentence {
  font: 17px/1.9 var(--serif);
  margin: 6px 0 var(--gap-4);
}
.sentence input {
  font: inherit;
  color: var(--moss);
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  width: auto;
  field-sizing: content;
  min-width: 60px;
}
.row {
  display: grid;
  grid-template-columns: 26px minmax(120px, 1.2fr) minmax(110px, 1fr) minmax(80px, 2fr) 64px 76px;
  gap: 10px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.heads {
  color: var(--quiet);
  font-size: 12.5px;
  border-color: var(--line-strong);
}
.row.at {
  background: var(--moss-soft);
}
.grip {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: grab;
}
.name {
  border: 0;
  background: none;
  padding: 0;
  font-weight: 600;
  cursor: pointer;
  text-align: left;
}
.name:hover {
  text-decoration: underline;
}
.mark {
  margin-left: 8px;
  font-size: 12px;
}
.help {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.more {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.small {
  font-size: 13px;
}
.bin {
  margin-top: var(--gap-4);
}
.bin h3 {
  font-size: 15px;
}
.bin p {
  margin: 4px 0;
}
@media (max-width: 800px) {
  .split.open {
    grid-template-columns: minmax(0, 1fr);
  }
  .split.open .page {
    display: none;
  }
  .row {
    grid-template-columns: 20px 1fr 1fr;
  }
  .row > :nth-child(n + 4) {
    display: none;
  }
}
</style>
