<script setup lang="ts">
// Picking from a list by typing: options of a choice, people, records to link.
import { computed, nextTick, onMounted, ref, watch } from 'vue'

export interface Pick {
  id: number
  name: string
  beside?: string
  hue?: string
}

const props = defineProps<{
  /** What is picked from, for the screen reader. */
  label: string
  /** The picks for what was typed. */
  search: (text: string) => Promise<Pick[]>
  chosen: Pick[]
  many?: boolean
  start?: string
  /** What one that is not there could become: *Make the section*; none: nothing can be made. */
  makes?: string
}>()
const emit = defineEmits<{
  pick: [ids: number[], move: 'down' | 'right' | 'left' | 'stay', names: string[]]
  cancel: [move?: 'left' | 'right']
  make: [name: string, chosen: number[]]
  /** What would be picked if one pressed now. */
  weigh: [ids: number[]]
}>()

const text = ref(props.start ?? '')
const found = ref<Pick[]>([])
const chosen = ref<Pick[]>([...props.chosen])
const at = ref(0)
const input = ref<HTMLInputElement>()
const list = ref<HTMLElement>()
/** Whether one has gone along the list. */
const walked = ref(false)
let round = 0
/** The search under way: Enter waits for it, so that a fast typist picks what they typed. */
let looking: Promise<void> = Promise.resolve()

const rest = computed(() => found.value.filter((pick) => !props.many || !chosen.value.some((c) => c.id === pick.id)))

async function look() {
  const mine = ++round
  const picks = await props.search(text.value)
  if (mine !== round) return
  found.value = picks
  const current = text.value ? 0 : rest.value.findIndex((pick) => pick.id === props.chosen[0]?.id)
  at.value = Math.max(0, current)
}

// What Enter would pick is in sight: the one that is chosen when it opens, then wherever the arrows go.
watch([at, rest], async () => {
  await nextTick()
  list.value?.querySelector('.at')?.scrollIntoView({ block: 'nearest' })
})
watch(text, () => (looking = look()), { flush: 'sync' })
/** The one under the pointer, if it is over one. */
const over = ref<number>()
watch([at, rest, over, () => chosen.value.length], () => {
  const own = chosen.value.map((one) => one.id)
  const one = over.value ?? (walked.value || text.value ? rest.value[at.value]?.id : undefined)
  emit('weigh', one === undefined ? own : props.many ? [...own, one] : [one])
})
onMounted(async () => {
  looking = look()
  await nextTick()
  input.value?.focus()
})

function take(pick: Pick, move: 'down' | 'right' | 'left' | 'stay') {
  if (!props.many) return emit('pick', [pick.id], move, [pick.name])
  chosen.value.push(pick)
  text.value = ''
  input.value?.focus()
}

function done(move: 'down' | 'right' | 'left' | 'stay') {
  if (props.many)
    return emit(
      'pick',
      chosen.value.map((c) => c.id),
      move,
      chosen.value.map((c) => c.name),
    )
  const pick = rest.value[at.value]
  if (pick && (text.value || !props.chosen.length)) emit('pick', [pick.id], move, [pick.name])
  else emit('cancel')
}

async function enter() {
  await looking
  const pick = rest.value[at.value]
  if (!pick && props.makes && text.value.trim())
    return emit(
      'make',
      text.value.trim(),
      chosen.value.map((c) => c.id),
    )
  if (props.many && !text.value) done('down')
  else if (pick) take(pick, 'down')
}

async function leave(move: 'left' | 'right') {
  await looking
  // Whoever only passes by chooses nothing.
  const same = props.many ? chosen.value.map((one) => one.id).join() === props.chosen.map((one) => one.id).join() : !walked.value
  if (!text.value && same) return emit('cancel', move)
  if (props.many && text.value && rest.value[at.value]) chosen.value.push(rest.value[at.value]!)
  done(move)
}

function keys(event: KeyboardEvent) {
  const { key } = event
  if (key === 'ArrowDown' || key === 'ArrowUp') {
    const step = key === 'ArrowDown' ? 1 : -1
    walked.value = true
    at.value = Math.max(0, Math.min(rest.value.length - 1, at.value + step))
  } else if (key === 'Enter') void enter()
  else if (key === 'Tab') void leave(event.shiftKey ? 'left' : 'right')
  else if (key === 'Escape') emit('cancel')
  else if ((key === 'Backspace' || key === 'Delete') && !text.value) {
    if (props.many) chosen.value.pop()
    else emit('pick', [], 'stay', [])
  } else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div class="pick" @mousedown.stop>
    <span v-for="one in many ? chosen : []" :key="one.id" class="chosen">
      {{ one.name }}
      <button type="button" :aria-label="`Take out ${one.name}`" @click="chosen = chosen.filter((c) => c.id !== one.id)">×</button>
    </span>
    <input
      ref="input"
      v-model="text"
      role="combobox"
      aria-expanded="true"
      aria-controls="pick-list"
      :aria-activedescendant="rest[at] && `pick-${rest[at]?.id}`"
      :aria-label="label"
      autocomplete="off"
      :placeholder="many || !chosen[0] ? 'Type to find' : chosen[0].name"
      @keydown="keys"
    />
    <ul id="pick-list" ref="list" role="listbox" :aria-label="label">
      <!-- eslint-disable vuejs-accessibility/mouse-events-have-key-events -- by keys it is weighed where the arrows are -->
      <li
        v-for="(pick, place) in rest"
        :id="`pick-${pick.id}`"
        :key="pick.id"
        role="option"
        :aria-selected="place === at"
        :class="{ at: place === at }"
        @mousedown.prevent="take(pick, 'stay')"
        @mouseenter="over = pick.id"
        @mouseleave="over = undefined"
      >
        <span :class="{ choice: pick.hue }" :style="{ '--hue': pick.hue }">{{ pick.name }}</span>
        <span v-if="pick.beside" class="quiet">{{ pick.beside }}</span>
      </li>
      <!-- eslint-enable vuejs-accessibility/mouse-events-have-key-events -->
      <li
        v-if="makes && text.trim()"
        role="presentation"
        class="makes"
        data-test="make"
        @mousedown.prevent="
          emit(
            'make',
            text.trim(),
            chosen.map((c) => c.id),
          )
        "
        >{{ makes }} “{{ text.trim() }}”</li
      >
      <li v-else-if="!rest.length" class="none quiet" role="presentation">{{
        text ? 'Nothing fits what you typed.' : 'Nothing to choose from.'
      }}</li>
    </ul>
    <button v-if="many" type="button" class="done" @click="done('stay')">Done</button>
  </div>
</template>

<style scoped>
.pick {
  position: relative;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  min-width: 220px;
  padding: var(--gap-1);
  color: var(--ink);
}
input {
  width: 100%;
  border: 0;
  outline: none;
  background: none;
  padding: 4px 6px;
}
ul {
  list-style: none;
  margin: 2px 0 0;
  padding: 2px 0 0;
  border-top: 1px solid var(--line);
  /* Whole in a low window too: a phone that lies on its side. */
  max-height: min(260px, calc(100vh - 64px));
  overflow-y: auto;
}
li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--gap-3);
  padding: 5px 6px;
  cursor: pointer;
  border-radius: 2px;
}
li.at {
  background: var(--moss-soft);
}
li[role='option']:hover {
  box-shadow: inset 0 0 0 1px var(--line-strong);
}
li.makes {
  color: var(--moss);
}
li.none {
  cursor: default;
}
.chosen {
  display: inline-flex;
  gap: 4px;
  border-bottom: 1px solid var(--line);
  margin: 2px 6px;
}
.chosen button,
.done {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--moss);
}
.done {
  display: block;
  width: 100%;
  border-top: 1px solid var(--line);
  padding: 5px;
}
</style>
