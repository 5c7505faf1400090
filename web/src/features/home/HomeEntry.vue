<script setup lang="ts">
// A tracker at home: what others did there, in sentences that lead to it; and what hangs loose.
import { ref } from 'vue'
import type { HomeLine } from '@/api/types'
import { iconOf } from '@/app/icons'
import OnYou from './OnYou.vue'
import StrokeLine from './StrokeLine.vue'

const props = defineProps<{ line: HomeLine; readonly: boolean }>()
const emit = defineEmits<{ menu: [at: { x: number; y: number }] }>()

/** Most loose ends that are told here; the tracker tells of all. */
const ENDS = 3
type Piece = HomeLine['report']['says'][number]
const to = (piece: Piece) => ({
  name: piece.record ? 'record' : 'view',
  params: { tracker: props.line.id, table: piece.table!, ...(piece.record ? { record: piece.record } : {}) },
})
const end = (at: { table: number; record: number }) => ({
  name: 'record',
  params: { tracker: props.line.id, table: at.table, record: at.record },
})
const more = ref<HTMLElement>()
function menu() {
  const box = more.value!.getBoundingClientRect()
  emit('menu', { x: box.left, y: box.bottom + 4 })
}
</script>

<template>
  <article class="entry" :class="{ still: !line.report.count }" :data-tracker="line.name">
    <div class="told">
      <component :is="line.report.count ? 'h3' : 'p'" class="title">
        <v-icon
          :icon="iconOf(line.icon)"
          :size="line.report.count ? 20 : 17"
          :style="{ color: line.hue ? `var(--${line.hue})` : undefined }"
          aria-hidden="true"
        />
        <router-link :to="{ name: 'tracker', params: { tracker: line.id } }">{{ line.name }}</router-link>
        <em v-if="line.stage_word">{{ line.stage_word }}</em>
        <span v-if="line.kept_for" class="for">on top for {{ line.kept_for }}</span>
        <template v-if="!line.report.count">{{ ' ' }}{{ line.report.says.map((piece) => piece.text).join('') }}</template>
        <button v-if="!readonly" ref="more" class="more" :aria-label="`More of ${line.name}`" data-test="entry-more" @click="menu"
          >…</button
        >
      </component>
      <p v-if="line.adds.length && !readonly" class="adds" data-test="home-adds"
        >Add
        <template v-for="(one, n) in line.adds" :key="one.words"
          ><template v-if="n">, </template
          ><router-link v-if="one.table" :to="{ name: 'view', params: { tracker: line.id, table: one.table }, query: { add: 'new' } }">{{
            one.words
          }}</router-link
          ><a v-else :href="one.address ?? undefined">{{ one.words }}</a></template
        >.</p
      >
      <template v-if="line.report.count">
        <StrokeLine :strokes="line.report.strokes" :since="line.report.since" />
        <p class="says">
          <template v-for="(piece, place) in line.report.says" :key="place">
            <router-link v-if="piece.table" :to="to(piece)">{{ piece.text }}</router-link>
            <template v-else>{{ piece.text }}</template>
          </template>
        </p>
      </template>
    </div>
    <OnYou :on="line.on_you" class="column" />
    <ul v-if="line.report.loose.length" class="loose column" aria-label="Loose ends">
      <li v-for="(one, place) in line.report.loose.slice(0, ENDS)" :key="place">
        <router-link v-if="one.at" :to="end(one.at)">{{ one.words }}</router-link>
        <template v-else>{{ one.words }}</template>
      </li>
      <li v-if="line.report.loose.length > ENDS"
        ><router-link :to="{ name: 'tracker', params: { tracker: line.id } }"
          >and {{ line.report.loose.length - ENDS }} more</router-link
        ></li
      >
    </ul>
    <p v-else class="loose column quiet">nothing</p>
  </article>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 264px 224px;
  border-bottom: 1px solid var(--line);
}
.told {
  padding: var(--gap-4) var(--gap-5) var(--gap-4) 0;
}
.title {
  font: 600 21px/1.35 var(--serif);
  margin: 0;
}
.still .title {
  font: 17px/1.5 var(--serif);
  color: var(--quiet);
}
.title a {
  color: var(--ink);
  border-bottom: 2px solid var(--line-strong);
  text-decoration: none;
}
.still .title a {
  font-weight: 600;
  border-bottom-width: 1px;
}
.title .v-icon {
  margin-right: 4px;
  vertical-align: -2px;
}
.adds {
  margin: 2px 0 0;
  font-size: 14px;
  color: var(--quiet);
}
em {
  margin-left: 10px;
  color: var(--copper);
  font-size: 15px;
}
.for {
  margin-left: 10px;
  font: 13px var(--sans);
  color: var(--quiet);
}
.says {
  font: 17px/1.55 var(--serif);
  color: var(--quiet);
  margin: 0;
  max-width: 62ch;
  overflow-wrap: anywhere;
}
.says a {
  color: var(--moss);
}
.more {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
  padding: 0 8px;
  font: 600 16px var(--sans);
}
.column {
  margin: 0;
  padding: var(--gap-4) var(--gap-4);
  border-left: 1px solid var(--line);
  font-size: 13px;
}
.loose {
  list-style: none;
  padding-right: 0;
}
.loose li {
  padding: 3px 0;
  border-bottom: 1px solid var(--row-line, var(--line));
}
.loose li:last-child {
  border-bottom: 0;
}
.loose a {
  color: var(--ink);
}
@media (max-width: 800px) {
  .entry {
    grid-template-columns: minmax(0, 1fr);
  }
  .told {
    padding-right: 0;
  }
  .column {
    border-left: 0;
    padding: 0 0 var(--gap-3);
  }
  p.column {
    display: none;
  }
  .title a,
  .adds a,
  .more,
  .loose a {
    display: inline-flex;
    align-items: center;
    min-height: 40px;
  }
}
</style>
