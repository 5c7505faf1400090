<script setup lang="ts">
// What happened to a record: who, when, before → after; and what automations did over it.
import { nextTick, ref } from 'vue'
import type { Run, TrailEntry } from '@/api/types'

defineProps<{
  trail: TrailEntry[]
  runs: Run[]
  tracker: number
  /** What automations wait for before they take the record for added. */
  awaits: string[]
}>()

const list = ref<HTMLElement>()
/** The entry that one was led to. */
const shown = ref<number>()

/** Brings an entry into sight. */
async function show(seq: number) {
  shown.value = seq
  await nextTick()
  list.value?.querySelector('.shown')?.scrollIntoView({ block: 'nearest' })
}
defineExpose({ show })

function what(entry: TrailEntry): string {
  if (entry.undoes) return 'took a step back'
  if (entry.what === 'pressed') return `pressed “${entry.pressed}”`
  return { added: 'added it', changed: '', removed: 'put it into the bin', restored: 'brought it back' }[entry.what]
}
</script>

<template>
  <section ref="list" class="trail" data-test="trail">
    <h3>Trail</h3>
    <p v-for="words in awaits" :key="words" class="awaits" data-test="awaits">{{ words }}</p>
    <div v-for="run in runs" :key="run.at_text + run.automation" class="event">
      <div>
        <time>{{ run.at_text }}</time>
        <b>{{ run.automation }}</b>
        <template v-if="run.mails.length">
          <p v-for="mail in run.mails" :key="mail.to"
            >Mail to {{ mail.to }}, {{ mail.state }}. <span v-if="mail.note" class="quiet">{{ mail.note }}</span></p
          >
        </template>
        <details>
          <summary>{{ run.mails.length ? 'Why sent?' : 'Why was nothing sent?' }}</summary>
          <p v-for="line in run.log" :key="line.text" :class="line.outcome">{{ line.text }}</p>
        </details>
      </div>
    </div>
    <div v-for="entry in trail" :key="entry.seq" class="event" :class="{ shown: entry.seq === shown }">
      <div>
        <time>{{ entry.at_text }}</time>
        <p v-if="entry.form">Came by {{ entry.who }}</p>
        <p v-else
          ><b>{{ entry.who }}</b> {{ what(entry) }}</p
        >
        <template v-if="entry.what !== 'added'">
          <p v-for="edit in entry.edits" :key="edit.field">
            {{ edit.name }}: <s v-if="edit.before">{{ edit.before }}</s><span v-else class="quiet">empty</span> →
            {{ edit.after || 'empty' }}
          </p>
        </template>
      </div>
    </div>
  </section>
</template>

<style scoped>
.trail {
  margin-top: var(--gap-4);
  min-width: 0;
}
h3 {
  font: 600 16px/1.4 var(--serif);
  margin-bottom: 6px;
}
@container folio (min-width: 760px) {
  .trail {
    margin-top: 0;
  }
}
.awaits {
  color: var(--copper);
  font-size: 13px;
  margin-bottom: 8px;
}
/* They hang on one line, each by its tick. */
.event {
  position: relative;
  padding: 0 0 10px 14px;
  border-left: 1px solid var(--line-strong);
  font-size: 13px;
}
.event::before {
  content: '';
  position: absolute;
  left: -1px;
  top: 9px;
  width: 8px;
  border-top: 2px solid var(--line-strong);
}
.shown {
  background: var(--moss-soft);
}
.shown::before {
  border-color: var(--moss);
}
time {
  float: right;
  margin-left: 10px;
  font-size: 12.5px;
  color: var(--quiet);
}
p {
  margin: 0;
  overflow-wrap: anywhere;
}
s {
  color: var(--quiet);
}
summary {
  color: var(--moss);
  cursor: pointer;
}
.no::before {
  content: '✕ ';
  color: var(--copper);
}
.yes::before {
  content: '✓ ';
  color: var(--moss);
}
.failed::before {
  content: '! ';
  color: var(--fault);
  font-weight: 700;
}
</style>
