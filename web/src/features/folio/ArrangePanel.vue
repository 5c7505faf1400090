<script setup lang="ts">
// How a table's records are laid out: sections that are dragged, named and said in a sentence each, and the fields in them.
import { computed, onMounted, toRef, useTemplateRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { Field, RecordList, Section, Table } from '@/api/types'
import { facts } from '@/features/cell/kinds'
import { useTracker } from '@/features/tracker/tracker'
import PickOne from '@/features/menu/PickOne.vue'
import type { PickItem } from '@/features/menu/pick'
import SentenceLine from '@/features/view/SentenceLine.vue'
import ArrangeList from './ArrangeList.vue'
import ArrangeSetting from './ArrangeSetting.vue'
import { useArranging } from './arranging'
import WidthEdge from './WidthEdge.vue'
import { isList, tableOf } from './desk'

const props = defineProps<{ tracker: number; table: Table }>()
const emit = defineEmits<{ close: []; changed: [] }>()

const { tracker: current } = useTracker()
const desk = useArranging(toRef(props, 'tracker'), toRef(props, 'table'), () => emit('changed'))
const { sections, away, lists, rest, sentences, trouble } = desk

const fieldOf = (id: number) => props.table.fields.find((field) => field.id === id)
const named = (id: number) => fieldOf(id)?.name ?? ''
const iconOf = (id: number) => {
  const field = fieldOf(id)
  return field ? facts(field).icon : ''
}
const targetOf = (field: Field | undefined) => current.value?.tables.find((table) => field && table.id === tableOf(field))
const listOf = (id: number): RecordList =>
  lists.value.find((one) => one.field === id) ?? { field: id, shows: [], by: null, descending: false, figures: [] }
const places = computed((): PickItem<number | 'away'>[] => [
  ...sections.value.map((section, n) => ({ value: n, title: section.heading || `section ${n + 1}` })),
  { value: 'away', title: 'put away' },
])
const canList = (id: number) => {
  const field = fieldOf(id)
  return !!field && isList(field) && !!targetOf(field)
}

/** How wide a field is in its section. */
const widen = (n: number, field: number, wide: boolean) =>
  desk.set(n, { fields: sections.value[n]!.fields.map((one) => (one.field === field ? { ...one, wide } : one)) })

// It stands where what opened it stood: the keys come along.
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.focus({ preventScroll: true }))

/** What a phrase says falls back to how a section begins. */
function drop(at: string) {
  const [, , place, part] = at.split('/')
  const begins: Partial<Section> = part === 'when' ? { when: { all: [] } } : part === 'not_for' ? { not_for: [] } : { [part!]: false }
  void desk.set(Number(place), begins)
}
</script>

<template>
  <section ref="panel" class="arrange" tabindex="-1" aria-label="How records are laid out" data-test="arrange-panel">
    <p class="lead"
      >So every {{ table.one }} is laid out, for everybody, when it is added too. Each step is kept at once.
      <v-btn variant="text" size="small" data-test="arranged" @click="emit('close')">Done</v-btn></p
    >
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <VueDraggable v-model="sections" handle=".section-grip" :animation="120" @end="desk.keep">
      <article v-for="(section, n) in sections" :key="section.key" class="one" :data-arranged="section.heading">
        <div class="named">
          <button
            type="button"
            class="grip section-grip"
            :aria-label="`Move the section ${section.heading || n + 1}; arrow keys move it`"
            @keydown.up.prevent="desk.shiftSection(n, -1)"
            @keydown.down.prevent="desk.shiftSection(n, 1)"
            >⋮</button
          >
          <input
            :value="section.heading"
            :aria-label="`Heading of section ${n + 1}`"
            placeholder="no heading"
            @change="desk.set(n, { heading: ($event.target as HTMLInputElement).value })"
          />
          <button type="button" class="drop" :aria-label="`Take out the section ${section.heading || n + 1}`" @click="desk.dropSection(n)"
            >×</button
          >
        </div>
        <SentenceLine class="says" :phrases="sentences[n] ?? []" @drop="drop">
          <template #editor="{ at, close }">
            <ArrangeSetting
              :at="at"
              :section="section"
              :table="table"
              :tracker="tracker"
              @set="(to, done) => (desk.set(n, to), done && close())"
              @close="close"
            />
          </template>
        </SentenceLine>
        <VueDraggable
          v-model="section.fields"
          class="fields"
          :class="{ two: section.two }"
          group="arranged"
          handle=".field-grip"
          :animation="120"
          @update="desk.keep"
          @add="desk.keep"
        >
          <div
            v-for="(placed, place) in section.fields"
            :key="placed.field"
            class="field"
            :class="{ wide: placed.wide }"
            :data-field="named(placed.field)"
          >
            <button
              type="button"
              class="grip field-grip"
              :aria-label="`Move ${named(placed.field)}; arrow keys move it`"
              @keydown.up.prevent="desk.shiftField(n, place, -1)"
              @keydown.down.prevent="desk.shiftField(n, place, 1)"
              >⋮</button
            >
            <v-icon :icon="iconOf(placed.field)" size="16" class="quiet" />
            <span class="name">{{ named(placed.field) }}</span>
            <ArrangeList
              v-if="canList(placed.field)"
              :list="listOf(placed.field)"
              :table="targetOf(fieldOf(placed.field))!"
              @set="desk.setList"
            />
            <button type="button" class="link" :aria-label="`put away ${named(placed.field)}`" @click="desk.put(placed.field, 'away')"
              >put away</button
            >
            <WidthEdge v-if="section.two" :name="named(placed.field)" :wide="placed.wide" @set="widen(n, placed.field, $event)" />
          </div>
          <p v-if="!section.fields.length" class="quiet none">Drag a field here, or choose this section beside it.</p>
        </VueDraggable>
      </article>
    </VueDraggable>
    <p><v-btn variant="text" data-test="add-section" @click="desk.addSection">+ section</v-btn></p>
    <template v-if="rest.length">
      <h4>{{ sections.length ? 'In no section: they follow after the last' : 'All fields, in their table’s order' }}</h4>
      <VueDraggable v-model="rest" class="fields" group="arranged" handle=".field-grip" :animation="120" @add="desk.keep">
        <div v-for="placed in rest" :key="placed.field" class="field" :data-field="named(placed.field)">
          <button type="button" class="grip field-grip" tabindex="-1" :aria-label="`Drag ${named(placed.field)}`">⋮</button>
          <v-icon :icon="iconOf(placed.field)" size="16" class="quiet" />
          <span class="name">{{ named(placed.field) }}</span>
          <ArrangeList
            v-if="canList(placed.field)"
            :list="listOf(placed.field)"
            :table="targetOf(fieldOf(placed.field))!"
            @set="desk.setList"
          />
          <PickOne
            said
            :model-value="undefined"
            hint="to …"
            :aria-label="`Where ${named(placed.field)} goes`"
            :items="places"
            @update:model-value="(to) => to !== undefined && desk.put(placed.field, to)"
          />
        </div>
      </VueDraggable>
    </template>
    <template v-if="away.length">
      <h4>Put away: a press away</h4>
      <div class="fields">
        <div v-for="field in away" :key="field" class="field" :data-field="named(field)">
          <span class="grip" aria-hidden="true" />
          <v-icon :icon="iconOf(field)" size="16" class="quiet" />
          <span class="name">{{ named(field) }}</span>
          <button type="button" class="link" :aria-label="`bring back ${named(field)}`" @click="desk.put(field, 'rest')">bring back</button>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.lead,
.none {
  font-size: 13px;
  color: var(--quiet);
  margin: 0 0 var(--gap-2);
}
.one {
  border-left: 3px solid var(--copper);
  background: var(--sheet);
  padding: var(--gap-2) var(--gap-3);
  margin-bottom: var(--gap-3);
}
.named {
  display: flex;
  align-items: center;
  gap: var(--gap-2);
}
.named input {
  flex: 1;
  min-width: 0;
  font: 600 16px/1.4 var(--serif);
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  padding: 4px 0;
}
.says {
  font-size: 15px;
}
.fields {
  border-top: 1px solid var(--line);
  min-height: 34px;
}
/* As wide as they will be, where there is room. */
@container folio (min-width: 620px) {
  .two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    column-gap: var(--gap-3);
  }
  .two > :is(.wide, .none) {
    grid-column: 1 / -1;
  }
}
.field {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 2px var(--gap-2);
  min-height: 34px;
  border-bottom: 1px solid var(--line);
}
.name {
  flex: 1;
  min-width: 100px;
}
.none {
  margin: 6px 0;
}
h4 {
  font: 600 14px/1.4 var(--sans);
  margin: var(--gap-3) 0 4px;
}
.grip {
  width: 24px;
  min-height: 24px;
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: grab;
}
.link,
.drop {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font-size: 13px;
  min-height: 24px;
}
.drop {
  font-size: 16px;
  min-width: 24px;
  color: var(--quiet);
}
.arrange:focus {
  outline: 0;
}
@media (pointer: coarse) {
  .link,
  .drop,
  .grip {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
