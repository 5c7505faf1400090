<script setup lang="ts">
// The life of a record: a stroke for each change, a dot for what was said, until now. What each was stands in the trail, to which a
// stroke leads. Its mark is held and drawn to a moment: the record is shown as it was then.
import { computed, ref, useTemplateRef } from 'vue'
import type { CommentTold, TrailEntry } from '@/api/types'
import { whatOf } from '@/features/talk/timeline'
import { dotsOf, heldAt, lifeOf, stepFrom } from './life'

const props = defineProps<{
  trail: TrailEntry[]
  comments: CommentTold[]
  made: string
  changed: string
  /** What is told of it is not all of it. */
  earlier?: boolean
  /** Whether one may put it back. */
  change?: boolean
}>()
/** The change after which one looks at it; nothing: now. */
const after = defineModel<number>('after')
const emit = defineEmits<{ to: [seq: number]; back: [entry: TrailEntry] }>()

const strokes = computed(() => lifeOf(props.trail, Date.now()))
const dots = computed(() => dotsOf(props.comments, props.trail, Date.now()))
const entry = (seq: number | undefined) => props.trail.find((one) => one.seq === seq)
const told = (seq: number) => [entry(seq)?.who, entry(seq)?.at_text].filter(Boolean).join(', ')
const first = computed(() => props.trail.at(-1)?.at_text)

const held = computed(() => entry(after.value))
const place = computed(() => strokes.value.findIndex((stroke) => stroke.seq === after.value))
const far = computed(() => strokes.value[place.value]?.far ?? 1)
const moment = computed(() => (held.value ? `As it was on ${held.value.at_text}, once ${held.value.who} ${whatOf(held.value)}` : 'now'))

const line = useTemplateRef<HTMLElement>('line')
const mark = useTemplateRef<HTMLElement>('mark')
const drawn = ref(false)
function hold(event: PointerEvent) {
  drawn.value = true
  mark.value?.setPointerCapture(event.pointerId)
}
function draw(event: PointerEvent) {
  if (!drawn.value || !line.value) return
  const { left, width } = line.value.getBoundingClientRect()
  after.value = heldAt(strokes.value, (event.clientX - left) / Math.max(1, width))
}
const step = (by: number) => (after.value = stepFrom(strokes.value, after.value, by))
function keys(event: KeyboardEvent) {
  if (event.altKey || event.ctrlKey || event.metaKey) return
  if (event.key === 'ArrowLeft' || event.key === 'ArrowDown') step(-1)
  else if (event.key === 'ArrowRight' || event.key === 'ArrowUp') step(1)
  else if (event.key === 'Home') after.value = strokes.value[0]?.seq
  else if (event.key === 'End' || (event.key === 'Escape' && held.value)) after.value = undefined
  else return
  event.preventDefault()
  event.stopPropagation()
}
function come() {
  after.value = undefined
  mark.value?.focus()
}
</script>

<template>
  <div class="life" data-test="life">
    <div ref="line" class="line">
      <!-- The trail says the same in words, for whom this picture is none. -->
      <div aria-hidden="true">
        <button
          v-for="one in strokes"
          :key="one.seq"
          type="button"
          tabindex="-1"
          :class="{ tall: one.tall, past: held && one.far > far }"
          :style="{ left: `${one.far * 100}%` }"
          :title="told(one.seq)"
          @click="emit('to', one.seq)"
        />
        <span v-for="one in dots" :key="one.id" class="dot" :style="{ left: `${one.far * 100}%` }" />
        <span v-if="held" class="unseen-since" :style="{ left: `${far * 100}%` }" />
      </div>
      <div
        v-if="strokes.length"
        ref="mark"
        class="mark"
        :class="{ held }"
        :style="{ left: `${far * 100}%` }"
        role="slider"
        tabindex="0"
        aria-label="The moment at which you look"
        :aria-valuemin="0"
        :aria-valuemax="strokes.length"
        :aria-valuenow="held ? place : strokes.length"
        :aria-valuetext="moment"
        title="Draw it back to see the record as it was"
        data-test="life-mark"
        @pointerdown.prevent="(hold($event), mark?.focus())"
        @pointermove="draw"
        @pointerup="drawn = false"
        @pointercancel="drawn = false"
        @keydown="keys"
      />
    </div>
    <p v-if="held" class="moment" role="status" data-test="moment">
      {{ moment }}.
      <span class="steps">
        <button type="button" class="link" :disabled="place === 0" @click="step(-1)">one change earlier</button>
        <button type="button" class="link" @click="step(1)">later</button>
        <button v-if="change && held.seq !== trail[0]?.seq" type="button" class="link" data-test="moment-back" @click="emit('back', held)"
          >put it back to then …</button
        >
        <button type="button" class="link" data-test="come-back" @click="come">come back to now</button>
      </span>
    </p>
    <p v-else>
      <span>{{ earlier ? `told from ${first} on` : made && `made ${made}` }}</span>
      <span v-if="changed && changed !== made" class="last">last changed {{ changed }}</span>
      <b>now</b>
    </p>
  </div>
</template>

<style scoped>
.life {
  margin: var(--gap-2) 0 var(--gap-4);
}
.line {
  position: relative;
  height: 22px;
  margin-right: 6px;
  border-bottom: 2px solid var(--moss);
}
/* As wide as can be pressed, drawn as a stroke. */
.line button {
  position: absolute;
  bottom: 0;
  width: 11px;
  min-width: 0;
  height: 22px;
  min-height: 0;
  margin-left: -5px;
  padding: 0;
  border: 0;
  background: linear-gradient(var(--moss), var(--moss)) 50% 100% / 2px 7px no-repeat;
  cursor: pointer;
}
.line .tall {
  background-size: 2px 15px;
}
.line .past {
  background-image: linear-gradient(var(--copper), var(--copper));
}
.line button:hover {
  background-size: 4px 15px;
}
.dot {
  position: absolute;
  bottom: -9px;
  width: 6px;
  height: 6px;
  margin-left: -3px;
  border-radius: 50%;
  background: var(--moss);
}
/* What one does not see while one looks back. */
.unseen-since {
  position: absolute;
  right: 0;
  bottom: -2px;
  border-bottom: 2px solid var(--copper);
}
/* As wide as can be held, drawn as the stroke of now, with a grip. */
.mark {
  position: absolute;
  z-index: 1;
  bottom: -11px;
  width: 24px;
  height: 34px;
  margin-left: -12px;
  background:
    linear-gradient(var(--ink), var(--ink)) 50% 0 / 2px 28px no-repeat,
    linear-gradient(var(--ink), var(--ink)) 50% 100% / 10px 6px no-repeat;
  cursor: ew-resize;
  touch-action: none;
}
.mark.held {
  background:
    linear-gradient(var(--copper), var(--copper)) 50% 0 / 2px 28px no-repeat,
    linear-gradient(var(--copper), var(--copper)) 50% 100% / 10px 6px no-repeat;
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-4);
  margin: 12px 0 0;
  font-size: 12.5px;
  color: var(--quiet);
}
p b {
  margin-left: auto;
  color: var(--ink);
}
.moment {
  color: var(--copper);
  font-size: 13px;
}
.steps {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
}
.steps .link:disabled {
  color: var(--quiet);
  text-decoration: none;
  cursor: default;
}
@media (pointer: coarse) {
  .mark {
    width: 44px;
    height: 40px;
    margin-left: -22px;
  }
  .steps .link {
    min-height: 44px;
  }
}
</style>
