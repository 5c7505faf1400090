<script setup lang="ts">
// The lines of a statement: each with its words, what it is of, and what it does to the total under it; and the run of days beside.
import { computed, ref } from 'vue'
import type { Statement, StatementLine } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'
import LineEditor from './LineEditor.vue'
import { RUNS, without } from './statement'

const props = defineProps<{ statement: Statement }>()
const emit = defineEmits<{ change: [statement: Statement] }>()
const { tracker } = useTracker()
const opened = ref<number | undefined>(props.statement.lines.length === 1 ? 0 : undefined)
const put = (lines: StatementLine[]) => emit('change', { ...props.statement, lines })
const set = (place: number, line: StatementLine) => put(props.statement.lines.map((one, n) => (n === place ? line : one)))
const first = computed(() => tracker.value?.tables[0])

function add() {
  const last = props.statement.lines.findLast((line) => typeof line.of === 'object' && 'records' in line.of)?.of
  const table = typeof last === 'object' && 'records' in last ? last.records.table : first.value?.id
  if (table === undefined) return
  opened.value = props.statement.lines.length
  put([...props.statement.lines, { words: '', of: { records: { table, condition: { all: [] }, sign: 'plus' } } }])
}
function drop(place: number) {
  opened.value = undefined
  put(without(props.statement.lines, place))
}
</script>

<template>
  <div class="statement-editor">
    <p class="says"
      >It tells
      <PickOne
        said
        :model-value="statement.run ?? null"
        aria-label="Which days"
        data-test="statement-run"
        :items="RUNS"
        @update:model-value="emit('change', { ...statement, run: $event })"
    /></p>
    <ol v-if="tracker">
      <li v-for="(line, place) in statement.lines" :key="place">
        <button type="button" class="line" :aria-expanded="opened === place" @click="opened = opened === place ? undefined : place">{{
          line.words || 'no words yet'
        }}</button>
        <button type="button" class="out" :aria-label="`Take out ${line.words}`" @click="drop(place)">×</button>
        <LineEditor
          v-if="opened === place"
          :line="line"
          :above="statement.lines.slice(0, place)"
          :tables="tracker.tables"
          :runs="!!statement.run"
          @change="set(place, $event)"
        />
      </li>
    </ol>
    <button type="button" class="link" data-test="add-line" @click="add">+ line</button>
  </div>
</template>

<style scoped>
.statement-editor {
  display: grid;
  gap: var(--gap-2);
  justify-items: start;
}
.says {
  margin: 0;
  font: 16px/1.6 var(--serif);
}
ol {
  width: 100%;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  border-bottom: 1px solid var(--line);
}
.line,
.out {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  padding: 8px 0;
  cursor: pointer;
}
.out {
  color: var(--quiet);
  min-width: 32px;
  text-align: center;
}
.line[aria-expanded='true'] {
  font-weight: 600;
}
</style>
