<script setup lang="ts">
// One fact of a folio; pressing it edits it in place.
import { computed } from 'vue'
import type { Cell, Field, Input, Look } from '@/api/types'
import CellEditor, { type Move } from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import { lookClass, lookStyle } from '@/features/highlight/looks'
import PressButton from '@/features/cell/PressButton.vue'
import { editor, isComputed } from '@/features/cell/kinds'

const props = defineProps<{
  field: Field
  cell: Cell | null | undefined
  /** How highlights make it look. */
  look?: Look
  change: boolean
  labelled?: boolean
  editing?: { fault?: string }
  /** What the choice that this one depends on holds. */
  on?: number | null
  /** The table whose records it names, if they can be opened. */
  to?: number
  tracker?: number
  /** The record, for links whose offers depend on it. */
  at?: { tracker: number; table: number; record: number }
  /** The table, also where there is no record yet. */
  table?: number
  /** Who else writes here. */
  writer?: string
  /** Why what was put in does not fit. */
  wrong?: string
  /** It is still asked. */
  missing?: boolean
  /** What stood here before, and until when. */
  until?: string
  /** Whether one looks at an earlier moment: what is computed is told as it is now. */
  past?: boolean
  /** What it held at the moment at which one looks back, where that is something else now. */
  then?: string
  /** Of a copied value: what stands now where it came from, if that is something else. */
  source?: string
}>()
const emit = defineEmits<{
  begin: []
  cancel: [move?: Move]
  commit: [input: Input, move: Move]
  why: [x: number, y: number]
  history: []
}>()
const editable = computed(() => props.change && !!editor(props.field))
const place = computed(
  () => props.at ?? (props.tracker && props.table !== undefined ? { tracker: props.tracker, table: props.table } : undefined),
)
const note = computed(() => (props.field.copies ? 'copied' : props.field.kind.type === 'carried' ? 'carried' : ''))

function askWhy(event: MouseEvent) {
  if (!event.altKey && event.currentTarget instanceof HTMLDivElement) return
  event.stopPropagation()
  event.preventDefault()
  emit('why', event.clientX, event.clientY)
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events -- by keys: “why?” beside it, and Ctrl-. -->
  <div class="fact" :class="{ ruled: labelled, missing }" :data-fact="field.name" @click.capture="askWhy">
    <p v-if="labelled" class="label" :title="field.help || undefined">{{ field.name }}</p>
    <div class="value" :class="{ writes: editable }">
      <CellEditor
        v-if="editing"
        :field="field"
        :cell="cell"
        :on="on"
        :at="place"
        :fault="editing.fault"
        @commit="(input, move) => emit('commit', input, move)"
        @cancel="emit('cancel', $event)"
      />
      <span v-else-if="then !== undefined" class="then">{{ then || 'empty' }}</span>
      <PressButton v-else-if="field.kind.type === 'button' && at" :field="field" :at="at" :may="change" />
      <template v-else-if="cell?.links?.length && to">
        <router-link v-for="link in cell.links" :key="link.id" :to="{ name: 'record', params: { tracker, table: to, record: link.id } }">{{
          link.name
        }}</router-link>
        <button v-if="editable" class="edit small" :aria-label="`Change ${field.name}`" @click="emit('begin')">change</button>
      </template>
      <button
        v-else-if="editable"
        class="edit"
        :class="lookClass(look)"
        :style="lookStyle(look)"
        :aria-label="`${field.name}: ${cell?.text || 'empty'}. Change it`"
        @click="emit('begin')"
      >
        <CellText v-if="cell || look?.word" :field="field" :cell="cell" :look="look" /><span v-else class="quiet">—</span>
      </button>
      <span v-else class="read" :class="lookClass(look)" :style="lookStyle(look)"
        ><CellText v-if="cell || look?.word" :field="field" :cell="cell" :look="look" /><span v-else class="quiet">—</span></span
      >
    </div>
    <div v-if="labelled" class="margin">
      <p v-if="past && isComputed(field)">as it is now</p>
      <p v-else-if="note || (isComputed(field) && cell)"
        ><span v-if="note" class="note">{{ note }}</span
        >{{ ' ' }}
        <button v-if="isComputed(field) && cell" class="ask" :aria-label="`Why is ${field.name} ${cell.text}?`" @click="askWhy"
          >why?</button
        ></p
      >
      <p v-if="writer" class="writer" role="status">{{ writer }} writes here</p>
      <p v-if="wrong" class="fault-text wrong" role="alert">{{ wrong }}</p>
      <p v-else-if="missing" class="asked">still asked</p>
      <p v-if="then !== undefined">now {{ cell?.text || 'empty' }}</p>
      <p v-else-if="until" class="until"
        ><button class="ask" :aria-label="`${until}. What stood in ${field.name} before`" @click="emit('history')">{{ until }}</button></p
      >
      <p v-if="source !== undefined" class="moved"
        >there it is now {{ source || 'empty' }}
        <button v-if="editable" class="ask" data-test="again" @click="emit('commit', 'again', 'stay')">fill in again</button></p
      >
    </div>
  </div>
</template>

<style scoped>
.fact {
  min-width: 0;
}
.ruled {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr) var(--margin, minmax(0, 190px));
  border-bottom: 1px solid var(--line);
}
.label,
.margin {
  margin: 0;
  padding: 8px 0;
  font-size: 13px;
  color: var(--quiet);
  overflow-wrap: anywhere;
}
.label {
  padding-right: 10px;
}
.margin {
  padding-left: 12px;
  font-size: 12.5px;
  font-style: italic;
}
.margin p {
  margin: 0;
}
.margin :is(.ask, .note) {
  font-style: italic;
}
.writer {
  color: var(--plum);
  font-weight: 600;
}
.asked,
.moved {
  color: var(--copper);
}
.then {
  color: var(--copper);
}
.value {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.ruled .value {
  padding: 7px 10px;
  border-inline: 1px solid var(--line);
}
/* What may be written is the lightest ground. */
.ruled .writes {
  background: var(--sheet);
}
.ruled .writes:hover {
  box-shadow: inset 0 -2px var(--moss);
}
.ruled .value:has(.editor) {
  padding: 0;
}
.edit {
  font: inherit;
  color: inherit;
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  cursor: text;
  min-width: 60px;
  white-space: pre-line;
}
.ruled .edit:not(.small) {
  width: 100%;
}
.ask {
  border: 0;
  background: none;
  padding: 0;
  color: var(--moss);
  cursor: pointer;
  font-size: 12.5px;
}
.small {
  font: 12px var(--sans);
  color: var(--quiet);
  margin-left: 8px;
  cursor: pointer;
}
/* Where there is no room for a margin, it stands under the name. */
@container folio (max-width: 560px) {
  .ruled {
    grid-template-columns: 112px minmax(0, 1fr);
    grid-template-rows: auto 1fr;
  }
  .label {
    padding-bottom: 0;
  }
  .ruled .value {
    grid-area: 1 / 2 / 3 / 3;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
  }
  .margin {
    padding: 0 6px 6px 0;
  }
  .ruled .value {
    border-right: 0;
  }
}
</style>
