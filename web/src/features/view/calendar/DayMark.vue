<script setup lang="ts">
// A record at its day: one day as a mark with a name, several as a stroke with a foot at either end, which can be drawn along.
import { computed } from 'vue'
import type { Look } from '@/api/types'
import LookMark from '@/features/highlight/LookMark.vue'
import { lookClass, lookStyle } from '@/features/highlight/looks'
import MarkHead from './MarkHead.vue'
import type { Placed } from './almanac'

const props = defineProps<{
  placed: Placed
  name: string
  /** The colour of its choice. */
  hue: string | undefined
  /** How a highlight makes its name look. */
  look?: Look
  /** What it says of itself beside its name. */
  about: string
  moves: boolean
  /** Whether its ends can be moved by themselves. */
  stretches: boolean
  carried: boolean
}>()
const emit = defineEmits<{
  open: []
  lift: [event: DragEvent, end: 'start' | 'end' | undefined]
  leave: []
  shift: [days: number]
  menu: [event: MouseEvent | KeyboardEvent]
}>()

const isSpan = computed(() => props.placed.mark.start !== props.placed.mark.end)
const DAYS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }

function keys(event: KeyboardEvent) {
  const days = DAYS[event.key]
  if (event.altKey && event.shiftKey && days) emit('shift', days)
  else if (event.key === 'Enter' || event.key === ' ') emit('open')
  else if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) emit('menu', event)
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    class="mark"
    :class="{ span: isSpan, carried, before: placed.before, behind: placed.behind }"
    :style="{ '--mark': hue ?? 'var(--ink)', gridColumn: `${placed.from + 1} / ${placed.to + 2}`, gridRow: placed.level + 2 }"
    :draggable="moves"
    @dragstart="emit('lift', $event, undefined)"
    @dragend="emit('leave')"
    @contextmenu.prevent="emit('menu', $event)"
  >
    <!-- No button: some browsers do not let one carry what is in one. -->
    <div class="said" role="button" tabindex="0" :title="about" data-mark @click="emit('open')" @keydown="keys">
      <MarkHead v-if="!isSpan" :date="placed.mark.date" />
      <LookMark :look="look" />
      <span class="name" :class="lookClass(look)" :style="lookStyle(look)">{{ name }}</span>
    </div>
    <template v-if="isSpan">
      <i class="stroke" aria-hidden="true" />
      <i
        v-if="!placed.before"
        class="foot start"
        :draggable="stretches"
        aria-hidden="true"
        @dragstart.stop="emit('lift', $event, 'start')"
      />
      <i v-if="!placed.behind" class="foot end" :draggable="stretches" aria-hidden="true" @dragstart.stop="emit('lift', $event, 'end')" />
    </template>
  </div>
</template>

<style scoped>
.mark {
  position: relative;
  min-width: 0;
  padding: 0 6px 0 0;
}
.mark[draggable='true'] {
  cursor: grab;
}
.said {
  display: flex;
  gap: 4px;
  align-items: center;
  width: 100%;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-size: 12.5px;
  line-height: 18px;
  min-height: 22px;
  padding: 0;
  text-align: left;
  cursor: inherit;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.said:hover .name {
  text-decoration: underline;
}
.span {
  padding: 0 0 7px;
  margin-right: 6px;
}
.span .said {
  font: italic 14px/18px var(--serif);
  padding-left: 8px;
}
.stroke {
  position: absolute;
  inset: auto 0 3px;
  border-top: 3px solid var(--mark);
}
.before .stroke {
  border-image: linear-gradient(90deg, transparent, var(--mark) 24px) 1;
}
.behind .stroke {
  border-image: linear-gradient(270deg, transparent, var(--mark) 24px) 1;
}
.before.behind .stroke {
  border-image: linear-gradient(90deg, transparent, var(--mark) 24px, var(--mark) calc(100% - 24px), transparent) 1;
}
.foot {
  position: absolute;
  bottom: -2px;
  width: 10px;
  height: 13px;
  cursor: ew-resize;
}
.foot.start {
  left: 0;
  border-left: 3px solid var(--mark);
}
.foot.end {
  right: 0;
  border-right: 3px solid var(--mark);
}
.carried {
  opacity: 0.45;
}
</style>
