<script setup lang="ts">
// Records told a line each: what the pieces are taken for stands beneath them, what has two readings is asked, and nothing is made
// before one says so.
import { computed } from 'vue'
import type { Done, Table } from '@/api/types'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useTelling } from './telling'

const props = defineProps<{
  tracker: number
  /** The table they go into; none: a new one. */
  table?: Table
  /** What one record of a new table is. */
  one: string
}>()
const emit = defineEmits<{ made: [done: Done] }>()

const telling = useTelling(() => ({ tracker: props.tracker, into: props.table?.id, one: props.one }))
const { lines, names, reply, trouble, busy } = telling
const told = computed(() => (lines.value.trim() ? reply.value?.told : undefined))
const rehearsal = computed(() => reply.value?.rehearsal)
const refused = computed(() => (reply.value?.refused ?? []).map((fault) => fault.message))
const unnamed = computed(() => !props.table && !props.one.trim())
const blocked = computed(() => unnamed.value || !told.value?.pieces.length || refused.value.length > 0)
const most = computed(() => told.value?.lines.length ?? 0)
const value = (event: Event) => (event.target as HTMLInputElement).value

async function make() {
  if (blocked.value || busy.value) return
  const done = await telling.make()
  if (done) emit('made', done)
}

function leave() {
  lines.value = ''
  telling.said.value = []
  names.value = undefined
}
</script>

<template>
  <section class="tell" data-test="tell">
    <div class="paper">
      <textarea
        v-model="lines"
        :rows="Math.min(12, Math.max(3, lines.split('\n').length + 1))"
        aria-label="One record to a line"
        :placeholder="`${table ? 'Write one down here' : 'then write one down here'}, its pieces parted by commas, or paste lines`"
        data-test="told-lines"
        @keydown.ctrl.enter.prevent="make"
        @keydown.meta.enter.prevent="make"
      />
      <div v-if="told" class="gloss" aria-live="polite" data-test="gloss">
        <div v-for="(piece, n) in told.pieces" :key="piece.column" class="piece" :class="{ unsure: piece.asks }">
          <p v-if="most" class="text">{{ told.lines[0]?.[n] || '–' }}</p>
          <i aria-hidden="true" />
          <b v-if="piece.known" class="name">{{ piece.name }}</b>
          <input
            v-else
            class="name"
            :value="piece.name"
            :aria-label="`Name of ${piece.name}`"
            :size="Math.max(4, piece.name.length)"
            @change="telling.say({ column: piece.column, name: value($event) })"
          />
          <p class="words"
            >{{ piece.words }} <span v-if="piece.asks" class="see">see {{ piece.asks }}</span></p
          >
          <p v-for="line in most - 1" :key="line" class="text">{{ told.lines[line]?.[n] || '–' }}</p>
        </div>
        <p v-if="told.records > most" class="quiet more">and {{ told.records - most }} more</p>
      </div>
    </div>
    <div v-if="told" class="below">
      <div v-if="told.questions.length">
        <h3>What it could not tell alone</h3>
        <p v-for="question in told.questions" :key="question.letter" class="question" :data-question="question.letter">
          <b>{{ question.letter }}</b> {{ question.words }}
          <button
            v-for="answer in question.answers"
            :key="answer.words"
            type="button"
            class="answer"
            :aria-pressed="answer.holds"
            @click="answer.said ? telling.say(answer.said) : (names = answer.names ?? undefined)"
            >{{ answer.words }}</button
          >
        </p>
        <p class="quiet">Unanswered, the first holds. All of it can be changed later.</p>
      </div>
      <div>
        <h3>Then you would have</h3>
        <p v-for="words in told.says" :key="words" class="says">{{ words }}</p>
      </div>
    </div>
    <slot v-else />
    <RehearsalPanel
      v-if="told"
      class="foot"
      :title="rehearsal?.title ?? told.says[0] ?? ''"
      :act="table ? 'Add them' : 'Make it'"
      :busy="busy"
      :blocked="blocked"
      :trouble="trouble || refused.join(' ')"
      @act="make"
      @leave="leave"
    >
      <p v-if="unnamed" class="quiet">Say first what one of them is.</p>
      <p v-for="words in rehearsal?.says" :key="words" class="quiet">{{ words }}</p>
      <ul v-if="rehearsal?.rejected.length" class="refused" data-test="told-refused">
        <li v-for="cell in rehearsal.rejected.slice(0, 5)" :key="`${cell.row} ${cell.column}`"
          >Line {{ cell.row }}, {{ cell.column }}: {{ cell.why }}</li
        >
      </ul>
    </RehearsalPanel>
  </section>
</template>

<style scoped>
.tell {
  min-width: 0;
}
.paper {
  background: var(--sheet);
  border-block: 1px solid var(--line-strong);
  padding: var(--gap-3) var(--gap-5);
}
textarea {
  display: block;
  width: 100%;
  border: 0;
  background: none;
  color: var(--ink);
  font: 20px/1.6 var(--serif);
  resize: vertical;
}
textarea:focus-visible {
  outline-offset: 6px;
}
/* Pieces that find no room stand in a second line of pieces. */
.gloss {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3) var(--gap-3);
  border-top: 1px solid var(--line);
  padding-top: var(--gap-3);
}
.piece {
  min-width: 88px;
  max-width: 260px;
}
.piece i {
  display: block;
  height: 7px;
  border: 1px solid var(--line-strong);
  border-top: 0;
}
.unsure i {
  border-color: var(--copper);
}
.text {
  margin: 0;
  font: 17px/1.7 var(--serif);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.name {
  display: block;
  max-width: 100%;
  margin: 4px 0 0;
  padding: 0;
  border: 0;
  border-bottom: 1px dashed var(--moss);
  background: none;
  color: var(--moss);
  font: 600 16px/1.4 var(--serif);
}
b.name {
  border: 0;
}
.words {
  margin: 2px 0 6px;
  font-size: 12.5px;
  color: var(--quiet);
  overflow-wrap: anywhere;
}
.see {
  color: var(--copper);
  font-weight: 600;
}
.more {
  align-self: end;
}
.below {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 340px), 1fr));
  gap: var(--gap-5);
  padding: var(--gap-4) var(--gap-5);
}
h3 {
  font: 600 18px/1.4 var(--serif);
  border-bottom: 1px solid var(--line);
  padding-bottom: 4px;
}
.question {
  margin: 0;
  padding: 8px 0 8px 12px;
  border-left: 3px solid var(--copper);
  border-bottom: 1px solid var(--line);
}
.question b {
  margin-right: 6px;
}
.answer {
  display: block;
  border: 0;
  padding: 0 0 0 20px;
  background: none;
  color: var(--moss);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  text-align: left;
}
.answer[aria-pressed='true'] {
  position: relative;
  font-weight: 600;
  text-decoration: none;
}
.answer[aria-pressed='true']::before {
  content: '✓';
  position: absolute;
  left: 2px;
}
.says {
  margin: 6px 0;
  font: 18px/1.5 var(--serif);
}
@media (min-width: 701px) {
  /* In sight while one reads what is asked: what it comes to at the left, what can be done at the right. */
  .foot {
    position: sticky;
    bottom: 0;
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    column-gap: var(--gap-5);
    align-items: end;
  }
  .foot > :deep(:not(.acts)) {
    grid-column: 1;
  }
  .foot > :deep(.acts) {
    grid-area: 1 / 2 / span 4;
  }
  .foot p {
    margin: 0;
  }
}
.refused {
  margin: 6px 0 0;
  padding-left: 18px;
  color: var(--fault);
  font-size: 13px;
}
@media (max-width: 700px) {
  .paper,
  .below {
    padding-inline: var(--gap-3);
  }
}
</style>
