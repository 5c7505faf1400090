<script setup lang="ts">
// One line of a form's script: how many are still there, what is asked of whom, and where the answer lands.
import { computed } from 'vue'
import type { Phrase, Question, ScriptLine } from '@/api/types'
import type { StillThere } from './script'

const props = defineProps<{
  question: Question
  place: number
  line?: ScriptLine
  phrases: Phrase[]
  still?: StillThere
  /** How many opened the form. */
  opened: number
  open: boolean
  fault: string
  first: boolean
  last: boolean
}>()
const emit = defineEmits<{ open: []; shift: [by: number] }>()

/** When it is asked, where it is not always. */
const direction = computed(() =>
  props.phrases.length > 1
    ? props.phrases
        .filter((p) => p.tone !== 'offer')
        .map((p) => p.text)
        .join('')
        .trim()
    : '',
)
const share = (count: number) => `${(100 * count) / Math.max(1, props.opened)}%`
</script>

<template>
  <li class="line" :class="{ open, wrong: !!fault }" :data-asked="question.label">
    <span v-if="still" class="stream" aria-hidden="true"
      ><i class="here" :style="{ width: share(still.here) }" /><i class="gone" :style="{ width: share(still.left) }"
    /></span>
    <span class="count" :title="still && 'still there at this line'">{{ still?.here }}</span>
    <span class="number">{{ question.hidden ? '·' : place + 1 }}</span>
    <div class="text">
      <p v-if="question.above?.heading" class="above">{{ question.above.heading }}</p>
      <button class="words" :aria-expanded="open" @click="emit('open')">
        <span v-if="direction" class="direction">{{ direction }}</span>{{ direction ? ' ' : ''
        }}<span :class="{ quietly: question.hidden }">{{ question.label || 'no words yet' }}</span
        >{{ ' ' }}<span class="how">{{ line?.how }}</span>
      </button>
      <p v-if="fault" class="fault-text">{{ fault }}</p>
    </div>
    <p class="lands"
      ><span aria-hidden="true">→</span> {{ line?.lands }} <span class="quiet">{{ line?.of }}</span>
      <b v-if="still?.left">{{ still.left }} left here</b></p
    >
    <span class="shift">
      <button :aria-label="`${question.label} earlier`" :disabled="first" @click="emit('shift', -1)">↑</button>
      <button :aria-label="`${question.label} later`" :disabled="last" @click="emit('shift', 1)">↓</button>
    </span>
    <div v-if="open" class="set"><slot /></div>
  </li>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: var(--stream, 0) 44px 26px minmax(0, 1fr) minmax(120px, 190px) 52px;
  align-items: start;
  border-top: 1px solid var(--line);
  min-height: 38px;
}
.line > * {
  grid-row: 1;
}
.stream {
  grid-column: 1;
  display: flex;
  align-self: stretch;
}
.stream i {
  align-self: stretch;
}
.here {
  background: var(--stream-colour);
}
.gone {
  background: var(--stream-colour);
  opacity: 0.4;
  margin-left: -1px;
}
.count {
  grid-column: 2;
}
.number {
  grid-column: 3;
}
.text {
  grid-column: 4;
}
.lands {
  grid-column: 5;
}
.shift {
  grid-column: 6;
}
.line > .set {
  grid-column: 4 / -1;
  grid-row: 3;
  padding-right: var(--gap-4);
}
.open > .stream {
  grid-row: 1 / 4;
}
.count,
.number {
  padding-top: 9px;
  text-align: right;
  padding-right: 8px;
  color: var(--quiet);
  font-size: 13px;
}
.number {
  font: 600 15px var(--serif);
}
.words {
  width: 100%;
  min-height: 38px;
  padding: 6px 0;
  border: 0;
  background: none;
  text-align: left;
  font: 17px/1.5 var(--serif);
  cursor: pointer;
}
.words:hover {
  color: var(--moss);
}
.direction {
  color: var(--copper);
  font-style: italic;
}
.quietly {
  color: var(--quiet);
  font-style: italic;
}
.how {
  margin-left: 6px;
  color: var(--quiet);
  font: 13px var(--sans);
}
.above {
  margin: 8px 0 -2px;
  font-weight: 600;
}
.lands {
  margin: 0;
  padding: 9px 8px;
  font-size: 13.5px;
}
.lands b {
  color: var(--fault);
}
.shift {
  padding-top: 4px;
}
.shift button {
  min-width: 26px;
  min-height: 30px;
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.shift button:disabled {
  color: var(--line-strong);
}
/* What is set of a line lies on the script, not on the form's paper. */
.line.open {
  background: var(--sheet);
  box-shadow: inset 3px 0 var(--moss);
  padding-bottom: var(--gap-4);
}
.line.wrong {
  box-shadow: inset 3px 0 var(--fault);
}
@media (max-width: 700px) {
  .line {
    grid-template-columns: 26px minmax(0, 1fr) 60px;
  }
  .stream,
  .count {
    display: none;
  }
  .number {
    grid-column: 1;
  }
  .lands {
    grid-column: 2;
    grid-row: 2;
    padding: 0 0 8px;
  }
  .text {
    grid-column: 2;
  }
  .shift {
    grid-column: 3;
    grid-row: 1;
  }
  .line > .set {
    grid-column: 1 / -1;
    padding: 0 var(--gap-3);
  }
  .shift button {
    min-height: 44px;
  }
}
</style>
