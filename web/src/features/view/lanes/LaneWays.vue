<script setup lang="ts">
// Beside the lanes: those that are put away, and those that the view leaves out. Both take what is carried.
import type { Table } from '@/api/types'
import LaneComb from './LaneComb.vue'
import type { Lane } from './lanes'

defineProps<{
  away: Lane[]
  /** What is put there leaves the view. */
  outside: Lane[]
  table: Table
  per: number
  /** Whether it is known how long records have stood in their lanes. */
  stands: boolean
  /** The lane that something is carried over. */
  over: Lane | undefined
  coming: (lane: Lane) => number
  /** What a drop would do. */
  says: string[]
  nameOf: (lane: Lane) => string
  /** Whether it was put away by hand. */
  mayComeBack: (lane: Lane) => boolean
}>()
const emit = defineEmits<{ over: [lane: Lane]; drop: []; back: [lane: Lane] }>()
</script>

<template>
  <aside class="ways" aria-label="Lanes that are put away">
    <template v-if="away.length">
      <h4>put away</h4>
      <div
        v-for="lane in away"
        :key="lane.head.key"
        class="way"
        :class="{ over: over === lane }"
        :style="{ '--hue': lane.hue ?? 'var(--line-strong)' }"
        :data-lane-key="lane.head.key"
        @dragover.prevent="emit('over', lane)"
        @drop.prevent="emit('drop')"
      >
        <b
          >{{ nameOf(lane) }} <span>{{ lane.group.count }}</span></b
        >
        <LaneComb v-if="over === lane" :lane="lane" :per="per" :coming="coming(lane)" />
        <button v-if="mayComeBack(lane)" type="button" class="link" :data-back="lane.group.text" @click="emit('back', lane)"
          >bring back</button
        >
      </div>
    </template>
    <template v-if="outside.length">
      <h4>to leave this view</h4>
      <div
        v-for="lane in outside"
        :key="lane.head.key"
        class="way gate"
        :class="{ over: over === lane }"
        :data-lane-key="lane.head.key"
        :style="{ '--hue': lane.hue ?? 'var(--line-strong)' }"
        @dragover.prevent="emit('over', lane)"
        @drop.prevent="emit('drop')"
      >
        <b>{{ nameOf(lane) }}</b>
        <p v-for="one in over === lane ? says : []" :key="one">{{ one }}</p>
      </div>
    </template>
    <p class="key"
      >A stroke is {{ per === 1 ? `one ${table.one}` : `${per} ${table.many}`
      }}<template v-if="stands">; the number before a {{ table.one }} is its days in the lane</template>.</p
    >
  </aside>
</template>

<style scoped>
.ways {
  flex: 0 0 148px;
  padding: 0 0 0 14px;
  overflow: auto;
}
.ways h4 {
  font: italic 14px var(--serif);
  color: var(--quiet);
  margin: 8px 0 6px;
}
.way {
  border-top: 1px solid var(--line-strong);
  padding: 6px 0 9px;
  font-size: 13px;
}
.way b {
  font: 600 16px var(--serif);
  display: flex;
  align-items: baseline;
}
.way b span {
  margin-left: auto;
  font: 500 13.5px var(--sans);
}
.way p {
  margin: 2px 0 0;
}
.gate {
  border: 1px dashed var(--line-strong);
  border-left: 3px solid var(--hue);
  padding-left: 9px;
  margin-bottom: 8px;
}
.way.over {
  background: var(--copper-soft);
}
.key {
  font-size: 12.5px;
  color: var(--quiet);
  border-top: 1px solid var(--line);
  margin: var(--gap-4) 0 0;
  padding-top: 8px;
}
</style>
