<script setup lang="ts">
// The records of one lane, down its column; only those on the screen are there. Where it is in bands, each band has a head.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { Row } from '@/api/types'
import { measured } from '../measured'
import { headsOf, type Head } from '../layout'
import type { Shown, Span } from '../window'
import type { Lane } from './lanes'

const props = defineProps<{
  lane: Lane
  window: Shown
  /** Where the level falls: how many records from the first on have stood too long; nothing where they are not in that order. */
  level: number | undefined
  /** What a band is of. */
  bandOf: string
}>()
const emit = defineEmits<{ show: [span: Span | undefined] }>()

type Line = { type: 'row'; place: number; under: boolean } | { type: 'band'; head: Head }

const lines = computed<{ count: number; at: (n: number) => Line }>(() => {
  const { head, group } = props.lane
  const bands = headsOf(group.within, head.place, [group])
  if (!bands.length) return { count: group.count, at: (n) => ({ type: 'row', place: head.place + n, under: n === props.level && n > 0 }) }
  const starts = bands.map((band, n) => ({ line: band.place - head.place + n, band }))
  return {
    count: group.count + bands.length,
    at: (n) => {
      const index = starts.findLastIndex((one) => one.line <= n)
      const { line, band } = starts[index]!
      return line === n ? { type: 'band', head: band } : { type: 'row', place: band.place + n - line - 1, under: false }
    },
  }
})

const scroller = ref<HTMLElement>()
const ENTRY = 56
const virtual = useVirtualizer(
  computed(() => ({
    count: lines.value.count,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ENTRY,
    measureElement: measured,
    overscan: 6,
  })),
)

const shown = computed(() =>
  virtual.value.getVirtualItems().flatMap((item) => {
    if (item.index >= lines.value.count) return []
    const line = lines.value.at(item.index)
    const row: Row | undefined = line.type === 'row' ? props.window.rows.value.get(line.place) : undefined
    return [{ key: String(item.key), index: item.index, top: item.start, line, row }]
  }),
)
const span = computed<Span | undefined>(() => {
  const places = shown.value.flatMap(({ line }) => (line.type === 'row' ? [line.place] : []))
  return places.length ? { first: Math.min(...places), last: Math.max(...places) } : undefined
})
watch(span, (now, old) => JSON.stringify(now) !== JSON.stringify(old) && emit('show', now), { immediate: true })
onBeforeUnmount(() => emit('show', undefined))

/** Brings a place of the view's order into sight. */
function reveal(place: number) {
  const { head, group } = props.lane
  const bands = headsOf(group.within, head.place, [group])
  const before = bands.filter((band) => band.place <= place).length
  virtual.value.scrollToIndex(place - head.place + before, { align: 'auto' })
}
defineExpose({ reveal })

const measure = (element: unknown) => element instanceof HTMLElement && virtual.value.measureElement(element)
</script>

<template>
  <div ref="scroller" class="column" :data-column="lane.group.text">
    <div class="body" :style="{ height: `${virtual.getTotalSize()}px` }" role="list" :aria-label="lane.group.text || 'No value'">
      <div
        v-for="one in shown"
        :key="one.key"
        :ref="measure"
        :data-index="one.index"
        class="line"
        :style="{ transform: `translateY(${one.top}px)` }"
      >
        <p v-if="one.line.type === 'band'" class="band"
          >{{ one.line.head.group.text || `No ${bandOf}` }} <span>{{ one.line.head.group.count }}</span></p
        >
        <template v-else>
          <p v-if="one.line.under" class="level"
            ><span>{{ level }} above {{ level === 1 ? 'stands' : 'stand' }} over {{ lane.limit?.days }} days</span></p
          >
          <slot v-if="one.row" name="entry" :row="one.row" :place="one.line.place" />
          <div v-else class="loading" aria-busy="true" />
        </template>
      </div>
    </div>
    <slot name="end" />
  </div>
</template>

<style scoped>
.column {
  overflow: hidden auto;
  position: relative;
  scrollbar-width: thin;
  min-height: 0;
  flex: 1;
}
.body {
  position: relative;
}
.line {
  position: absolute;
  top: 0;
  left: 0;
  width: 100%;
}
.loading {
  height: 56px;
}
.band {
  margin: 0;
  padding: 8px 10px 3px 42px;
  font: italic 14px var(--serif);
  color: var(--quiet);
  border-bottom: 1px solid var(--line-strong);
}
.band span {
  float: right;
  font: 500 12.5px var(--sans);
}
.level {
  margin: 0;
  height: 19px;
  font-size: 12px;
  line-height: 18px;
  color: var(--fault);
  background: linear-gradient(var(--fault), var(--fault)) 0 9px / 100% 2px no-repeat;
}
.level span {
  float: right;
  margin-right: 8px;
  background: var(--sheet);
  padding: 0 5px;
}
</style>
