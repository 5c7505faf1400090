<script setup lang="ts">
// A record on a line of hours: its name, and a stroke as long as it lasts with a foot at either end. Across, or down a thread.
import { computed } from 'vue'
import type { HourStroke } from '@/api/types'
import LookMark from '@/features/highlight/LookMark.vue'
import { lookClass, lookStyle } from '@/features/highlight/looks'
import { useDesk } from './desk'
import { clock, isTimed } from './hours'
import MarkHead from './MarkHead.vue'

const props = defineProps<{
  stroke: HourStroke
  /** The day on whose line it is. */
  day: string
  name: string
  /** Its end can be moved by itself: its length is a field of its own. */
  stretches: boolean
  moves: boolean
  down?: boolean
}>()
const emit = defineEmits<{
  lift: [event: DragEvent, end: 'end' | undefined]
  /** By keys: along the hours, and to the next line. */
  along: [step: 1 | -1, lasts: boolean]
  aside: [step: 1 | -1]
}>()
const desk = useDesk()

const row = computed(() => (props.stroke.date == null ? undefined : desk.rows.value.get(props.stroke.record)))
const look = computed(() => desk.lookOf(row.value))
const says = computed(() => {
  const { from, to, length } = props.stroke
  const when = { timed: `${clock(from)} to ${clock(to)}`, moment: clock(from), day: 'all day', untimed: 'at no hour' }[length]
  return [`${props.name}, ${when}`, desk.about(row.value)].filter(Boolean).join('\n')
})
const isBeneath = computed(() => props.stroke.date == null)
function open() {
  if (!isBeneath.value) desk.open(props.stroke.record)
}
function menu(event: MouseEvent | KeyboardEvent) {
  if (row.value) desk.menu(event, row.value, { record: row.value.id, date: props.stroke.date!, start: props.day, end: props.day })
}
function keys(event: KeyboardEvent) {
  const [more, less, next, last] = props.down
    ? ['ArrowDown', 'ArrowUp', 'ArrowRight', 'ArrowLeft']
    : ['ArrowRight', 'ArrowLeft', 'ArrowDown', 'ArrowUp']
  const step = event.key === more || event.key === next ? 1 : event.key === less || event.key === last ? -1 : 0
  if (event.altKey && step && (event.key === more || event.key === less)) emit('along', step, event.shiftKey)
  else if (event.altKey && step) emit('aside', step)
  else if (event.key === 'Enter' || event.key === ' ') open()
  else if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) menu(event)
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    class="bar"
    :class="[
      stroke.length,
      { down, beneath: isBeneath, before: stroke.before, behind: stroke.behind, carried: !!row && desk.carried.value?.row.id === row.id },
    ]"
    :style="{ '--mark': isBeneath ? 'var(--quiet)' : (desk.hueOf(row) ?? 'var(--ink)') }"
    :draggable="moves"
    :data-record="isBeneath ? undefined : stroke.record"
    @dragstart="emit('lift', $event, undefined)"
    @dragend="desk.leave"
    @contextmenu.prevent="menu"
  >
    <div
      class="said"
      :role="isBeneath ? undefined : 'button'"
      :tabindex="isBeneath ? undefined : 0"
      :title="says"
      :aria-label="isBeneath ? undefined : says.replaceAll('\n', ', ')"
      data-mark
      @click="open"
      @keydown="keys"
    >
      <MarkHead v-if="!isBeneath" :date="stroke.date ?? 0" />
      <LookMark :look="look" />
      <span class="name" :class="lookClass(look)" :style="lookStyle(look)">{{ name }}</span>
    </div>
    <template v-if="stroke.length === 'timed' || stroke.length === 'day'">
      <i class="stroke" aria-hidden="true" />
      <i v-if="!stroke.before" class="foot start" aria-hidden="true" />
      <i
        v-if="!stroke.behind"
        class="foot end"
        :draggable="stretches && isTimed(stroke)"
        aria-hidden="true"
        @dragstart.stop="emit('lift', $event, 'end')"
      />
    </template>
  </div>
</template>

<style scoped>
.bar {
  position: absolute;
  height: 26px;
  padding-bottom: 7px;
  min-width: 12px;
}
.bar[draggable='true'] {
  cursor: grab;
}
.said {
  display: flex;
  gap: 4px;
  align-items: center;
  font-size: 12.5px;
  line-height: 18px;
  white-space: nowrap;
  width: max-content;
  max-width: 240px;
  min-height: 18px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
.said[role='button']:hover .name {
  text-decoration: underline;
}
.beneath .said {
  font: italic 14px/18px var(--serif);
  padding-left: 8px;
}
.stroke {
  position: absolute;
  inset: auto 0 3px;
  border-top: 2px solid var(--mark);
}
.beneath .stroke,
.day .stroke {
  border-top-width: 3px;
}
.before .stroke {
  border-image: linear-gradient(90deg, transparent, var(--mark) 24px) 1;
}
.behind .stroke {
  border-image: linear-gradient(270deg, transparent, var(--mark) 24px) 1;
}
.foot {
  position: absolute;
  bottom: 0;
  width: 8px;
  height: 9px;
}
.foot.start {
  left: 0;
  border-left: 2px solid var(--mark);
}
.foot.end {
  right: 0;
  border-right: 2px solid var(--mark);
}
.foot[draggable='true'] {
  cursor: ew-resize;
}
/* Down a thread the stroke is the thread itself, and the name stands beside it. */
.down {
  height: auto;
  padding: 0;
  min-height: 24px;
}
.down .said {
  align-items: start;
  white-space: normal;
  width: auto;
  max-width: none;
  padding: 3px 4px 0 8px;
  line-height: 16px;
  overflow: hidden;
  max-height: 100%;
}
.down .name {
  font-weight: 600;
}
.down.beneath .name {
  font-weight: 400;
}
.down .stroke {
  inset: 0 auto 0 0;
  border-top: 0;
  border-left: 3px solid var(--mark);
}
.down.before .stroke {
  border-image: linear-gradient(180deg, transparent, var(--mark) 24px) 1;
}
.down.behind .stroke {
  border-image: linear-gradient(0deg, transparent, var(--mark) 24px) 1;
}
.down .foot {
  width: 11px;
  height: 8px;
  left: -4px;
}
.down .foot.start {
  top: 0;
  bottom: auto;
  border-left: 0;
  border-top: 2px solid var(--mark);
}
.down .foot.end {
  right: auto;
  border-right: 0;
  border-bottom: 2px solid var(--mark);
}
.down .foot[draggable='true'] {
  cursor: ns-resize;
}
.carried {
  opacity: 0.45;
}
@media (pointer: coarse) {
  .said {
    min-height: 26px;
  }
}
</style>
