<script setup lang="ts">
// The fields of one section of an opened record: facts first, then files, lines and lists, each in the order arranged.
import { computed } from 'vue'
import type { Field, LaidSection } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import { ground, isList, tableOf, useDesk } from './desk'
import FolioFact from './FolioFact.vue'
import FolioFiles from './FolioFiles.vue'
import FolioLines from './FolioLines.vue'
import FolioList from './FolioList.vue'

const props = defineProps<{ section: LaidSection; closed: boolean }>()
const emit = defineEmits<{ toggle: [] }>()

const desk = useDesk()
const { tracker } = useTracker()

const placed = computed(() =>
  props.section.fields.flatMap(({ field, wide }) => {
    const known = desk.value.table.fields.find((one) => one.id === field)
    return known ? [{ field: known, wide }] : []
  }),
)
// On its way its lists are filled in like facts, but for those that are entered line by line.
const isFact = ({ field }: { field: Field }) => field.kind.type !== 'files' && (!isList(field) || (!desk.value.at && !field.lines))
const plain = computed(() => placed.value.filter(isFact))
const files = computed(() => placed.value.filter((one) => one.field.kind.type === 'files'))
const lists = computed(() => placed.value.filter((one) => isList(one.field) && !isFact(one)))
const opensTable = (id: number | undefined) => (tracker.value?.tables.some((t) => t.id === id) ? id : undefined)
const lineTable = (field: Field) => tracker.value?.tables.find((t) => t.id === tableOf(field))
const listed = (field: Field) => desk.value.table.lists.find((one) => one.field === field.id)
/** What its files and lists held at the moment at which one looks back. */
const held = computed(() =>
  [...files.value, ...lists.value].flatMap(({ field: { id, name } }) => {
    const then = desk.value.then?.(id)
    return then === undefined ? [] : [{ name, then }]
  }),
)
</script>

<template>
  <section class="section" :data-section="section.heading">
    <h3 v-if="section.heading"
      ><button type="button" class="heading" :aria-expanded="!closed" @click="emit('toggle')"
        >{{ section.heading }} <span class="mark" aria-hidden="true">{{ closed ? '▸' : '▾' }}</span></button
      ></h3
    >
    <template v-if="!closed">
      <div v-if="plain.length" class="facts" :class="{ two: section.two }">
        <div v-for="one in plain" :key="one.field.id" class="half" :class="{ wide: one.wide }">
          <FolioFact
            labelled
            :field="one.field"
            :cell="desk.cell(one.field.id)"
            :look="desk.look?.(one.field.id)"
            :change="desk.change"
            :to="opensTable(tableOf(one.field))"
            :tracker="desk.tracker"
            :on="ground(one.field, desk.cell)"
            :at="desk.at"
            :table="desk.table.id"
            :until="desk.until?.(one.field.id)"
            :past="desk.past"
            :then="desk.then?.(one.field.id)"
            :source="desk.source?.(one.field.id)"
            :writer="desk.writer?.(one.field.id)"
            :wrong="desk.wrong?.(one.field.id)"
            :missing="desk.isMissing?.(one.field.id)"
            :editing="desk.editing?.field === one.field.id ? desk.editing : undefined"
            @why="(x, y) => desk.why?.(one.field.id, x, y)"
            @history="desk.history?.(one.field)"
            @begin="desk.begin(one.field.id)"
            @cancel="desk.cancel(one.field.id, $event)"
            @commit="(input, move) => desk.commit(one.field, input, move)"
          />
        </div>
      </div>
      <p v-for="one in held" :key="one.name" class="then">{{ one.name }} then: {{ one.then || 'nothing' }}</p>
      <FolioFiles
        v-for="one in files"
        :key="one.field.id"
        :at="desk.at"
        :field="one.field"
        :cell="desk.cell(one.field.id)"
        :change="desk.change"
        :missing="desk.isMissing?.(one.field.id)"
        :hang="desk.hang"
        :keep="desk.keep"
        @changed="desk.changed()"
      />
      <template v-for="one in lists" :key="one.field.id">
        <FolioLines
          v-if="lineTable(one.field) && (one.field.lines || listed(one.field))"
          :kept="desk.lines(one.field, lineTable(one.field)!)"
          :field="one.field"
          :lines="lineTable(one.field)!"
          :listed="listed(one.field)"
          :change="desk.change"
          @changed="desk.changed()"
        />
        <FolioList v-else-if="desk.at" :field="one.field" />
      </template>
    </template>
  </section>
</template>

<style scoped>
.section + .section {
  margin-top: var(--gap-4);
}
h3 {
  margin: 0;
  font: 600 16px/1.4 var(--serif);
}
.heading {
  border: 0;
  background: none;
  padding: 4px 0;
  font: inherit;
  color: var(--ink);
  cursor: pointer;
}
.mark {
  color: var(--quiet);
  font-size: 12px;
}
.facts {
  border-top: 1px solid var(--line-strong);
}
/* Two beside each other end at one line. */
.half > * {
  height: 100%;
}
.then {
  margin: var(--gap-2) 0 0;
  color: var(--copper);
  font-size: 13px;
  overflow-wrap: anywhere;
}
@container folio (min-width: 620px) {
  .two {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    column-gap: var(--gap-4);
  }
  .two .wide {
    grid-column: 1 / -1;
    /* What stands over both columns takes them both, where nothing is noted beside it. */
    --margin: fit-content(190px);
  }
  /* A fact of half the width is laid out as in half the room. */
  .two .half:not(.wide) {
    container: folio / inline-size;
  }
}
</style>
