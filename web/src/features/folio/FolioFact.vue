<script setup lang="ts">
// One fact of a folio; pressing it edits it in place.
import { computed } from 'vue'
import type { Cell, Field, Input } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'
import CellText from '@/features/cell/CellText.vue'
import PressButton from '@/features/cell/PressButton.vue'
import { editor, isComputed } from '@/features/cell/kinds'

const props = defineProps<{
  field: Field
  cell: Cell | null | undefined
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
  /** Of a copied value: what stands now where it came from, if that is something else. */
  source?: string
}>()
const emit = defineEmits<{ begin: []; cancel: []; commit: [input: Input]; why: [x: number, y: number] }>()
const editable = computed(() => props.change && !!editor(props.field))
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
  <div class="fact" :data-fact="field.name" @click.capture="askWhy">
    <p v-if="labelled" class="label" :title="field.help || undefined"
      >{{ field.name }} <span v-if="note" class="note">{{ note }}</span>{{ ' ' }}
      <button v-if="isComputed(field) && cell" class="ask" :aria-label="`Why is ${field.name} ${cell.text}?`" @click="askWhy"
        >why?</button
      ></p
    >
    <p v-if="source !== undefined" class="moved"
      >there it is now {{ source || 'empty' }}
      <button v-if="editable" class="ask" data-test="again" @click="emit('commit', 'again')">fill in again</button></p
    >
    <CellEditor
      v-if="editing"
      :field="field"
      :cell="cell"
      :on="on"
      :at="at"
      :fault="editing.fault"
      @commit="(input) => emit('commit', input)"
      @cancel="emit('cancel')"
    />
    <PressButton v-else-if="field.kind.type === 'button' && at" :field="field" :at="at" :may="change" />
    <div v-else class="value">
      <template v-if="cell?.links?.length && to">
        <router-link v-for="link in cell.links" :key="link.id" :to="{ name: 'record', params: { tracker, table: to, record: link.id } }">{{
          link.name
        }}</router-link>
        <button v-if="editable" class="edit small" :aria-label="`Change ${field.name}`" @click="emit('begin')">change</button>
      </template>
      <button v-else-if="editable" class="edit" :aria-label="`${field.name}: ${cell?.text || 'empty'}. Change it`" @click="emit('begin')">
        <CellText v-if="cell" :field="field" :cell="cell" /><span v-else class="quiet">—</span>
      </button>
      <span v-else class="read"><CellText v-if="cell" :field="field" :cell="cell" /><span v-else class="quiet">—</span></span>
    </div>
  </div>
</template>

<style scoped>
.fact {
  min-width: 0;
}
.label {
  font-size: 12px;
  color: var(--quiet);
  margin: 0;
}
.moved {
  margin: 0;
  font-size: 12px;
  color: var(--copper);
}
.note {
  font-style: italic;
}
.value {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.edit {
  font: inherit;
  color: inherit;
  border: 0;
  background: none;
  padding: 1px 0;
  text-align: left;
  cursor: text;
  min-width: 60px;
  white-space: pre-line;
}
.edit:hover {
  background: var(--moss-soft);
}
.ask {
  border: 0;
  background: none;
  padding: 0;
  color: var(--moss);
  cursor: pointer;
  font-size: 12px;
}
.small {
  font: 12px var(--sans);
  color: var(--quiet);
  margin-left: 8px;
  cursor: pointer;
}
</style>
