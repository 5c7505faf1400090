<script setup lang="ts">
// Who gains and loses, person by person: a bar leans left for what is lost and right for what is gained.
import { computed } from 'vue'
import type { PersonMoves, TableMoves } from '@/api/types'

const props = defineProps<{
  people: PersonMoves[]
  /** What a table is called. */
  name: (table: number) => string
}>()

interface Line {
  person: PersonMoves
  moves?: TableMoves
  first: boolean
}
const lines = computed<Line[]>(() =>
  props.people.flatMap<Line>((person) =>
    person.tables.length ? person.tables.map((moves, place) => ({ person, moves, first: place === 0 })) : [{ person, first: true }],
  ),
)
const share = (part: number, of: number) => `${Math.min(100, (100 * part) / Math.max(1, of))}%`
const lost = ({ look, of }: TableMoves) => share(Math.max(0, look.before - look.after), of)
const gained = ({ look, of }: TableMoves) => share(Math.max(0, look.after - look.before), of)
const list = (word: string, names: TableMoves['lost']) => (names.length ? [`${word} ${names.map((one) => one.name).join('; ')}`] : [])
const examples = (moves: TableMoves) => [...list('No more:', moves.lost), ...list('New:', moves.gained)].join('. ')
const rows = (person: PersonMoves) => Math.max(1, person.tables.length)
</script>

<template>
  <div v-if="lines.length" class="scroll" tabindex="0" role="region" aria-label="Who gains and loses">
    <table>
      <thead>
        <tr
          ><th scope="col">Who</th><th scope="col">In</th><th scope="col" colspan="2">Sees, changes, removes</th
          ><th scope="col" class="example">For example</th></tr
        >
      </thead>
      <tbody>
        <tr v-for="(line, n) in lines" :key="n" :class="{ first: line.first }">
          <th v-if="line.first" scope="row" :rowspan="rows(line.person)">
            {{ line.person.name }}
            <span v-if="line.person.shut_out" class="out">does not open it any more</span>
          </th>
          <template v-if="line.moves">
            <td>{{ name(line.moves.table) }}</td>
            <td class="bar" aria-hidden="true"
              ><span class="less"><i :style="{ width: lost(line.moves) }" /></span
              ><span class="more"><i :style="{ width: gained(line.moves) }" /></span
            ></td>
            <td class="words">{{ line.moves.words }}</td>
            <td class="quiet example">{{ examples(line.moves) }}</td>
          </template>
          <td v-else colspan="4" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
/* What is to be decided stays in sight however many people it is about. */
.scroll {
  max-height: 36dvh;
  overflow: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 13.5px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 4px 16px 4px 0;
}
thead th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
}
tbody tr.first > * {
  border-top: 1px solid var(--line);
}
.out {
  display: block;
  font-weight: 400;
  color: var(--copper);
}
.words {
  min-width: 210px;
}
@media (max-width: 700px) {
  .example,
  td.bar {
    display: none;
  }
  .words {
    min-width: 0;
  }
}
.bar {
  display: flex;
  min-width: 160px;
  padding-top: 9px;
}
.bar span {
  flex: 1;
  display: flex;
  height: 9px;
}
.less {
  justify-content: flex-end;
  border-right: 1px solid var(--ink);
}
.less i {
  background: var(--copper);
}
.more i {
  background: var(--moss);
}
</style>
