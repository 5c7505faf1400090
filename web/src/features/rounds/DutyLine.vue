<script setup lang="ts">
// One thing on somebody: how late it is in the margin, what it is, why it is theirs, and the word that does it.
import { computed } from 'vue'
import type { Duty } from '@/api/types'
import { addressOf, canGive, canMove, ray } from './rounds'

const props = defineProps<{
  duty: Duty
  readonly: boolean
  busy: boolean
  /** Whether it can be taken back at once. */
  undoes: boolean
  /** It is being moved. */
  held: boolean
}>()
const emit = defineEmits<{ finish: []; unfinish: []; hold: [] }>()
const address = computed(() => addressOf(props.duty))
// Where it can't be moved, what opens says why.
const moves = computed(() => !props.readonly && (canMove(props.duty) || canGive(props.duty) || !!props.duty.fixed))
const first = computed(() => [props.duty.urgency?.text, ...props.duty.tells].filter(Boolean).join(', '))
</script>

<template>
  <li class="duty" :class="{ done: duty.done, held }" :data-duty="duty.name">
    <p class="when">
      <template v-if="duty.late && !duty.done"
        ><b>{{ duty.late_text }}</b> <span class="due">{{ duty.due_text }}</span>
        <span class="ray" :class="{ broken: ray(duty.late) === 1 }" :style="{ '--ray': ray(duty.late) }" aria-hidden="true"
      /></template>
    </p>
    <div
      class="what"
      :class="{ hued: duty.urgency && !duty.done }"
      :style="duty.urgency ? { '--hue': `var(--${duty.urgency.hue})` } : undefined"
    >
      <p class="name">
        <router-link v-if="address" :to="address">{{ duty.name }}</router-link>
        <template v-else>{{ duty.name }}</template>
      </p>
      <p class="tells">
        <span v-if="duty.late && !duty.done" class="late">{{ duty.late_text }}{{ first ? ', ' : '' }}</span
        >{{ first }}
      </p>
    </div>
    <p class="why">
      <template v-if="duty.done">{{ duty.done }}</template>
      <template v-else>{{ duty.why }}</template>
    </p>
    <p class="does">
      <button v-if="duty.done && undoes" type="button" class="link" :disabled="busy" @click="emit('unfinish')">Undo</button>
      <template v-else-if="!duty.done">
        <button
          v-if="moves"
          type="button"
          class="link"
          :aria-label="`Move ${duty.name}, or hand it on`"
          data-test="move"
          @click="emit('hold')"
          >move</button
        >
        <button
          v-if="duty.verb && !readonly"
          type="button"
          class="verb"
          :aria-label="`${duty.verb}: ${duty.name}`"
          :disabled="busy"
          data-test="finish"
          @click="emit('finish')"
          ><span aria-hidden="true">— </span>{{ duty.verb }}</button
        >
      </template>
    </p>
  </li>
</template>

<style scoped>
.duty {
  display: grid;
  grid-template-columns: var(--margin) minmax(0, 1fr) minmax(120px, 230px) auto;
  align-items: start;
  min-height: 45px;
}
.duty > :not(.when) {
  align-self: stretch;
  padding: 6px var(--gap-4) 5px 0;
}
.duty > .does {
  padding-right: 0;
}
.duty + .duty > :not(.when) {
  border-top: 1px solid var(--line);
}
p {
  margin: 0;
}
.when {
  position: relative;
  align-self: stretch;
  padding: 6px 14px 5px 0;
  text-align: right;
  line-height: 1.3;
}
.when b {
  display: block;
  color: var(--fault);
}
.due {
  color: var(--quiet);
  font-size: 13px;
}
/* What is late hangs out over today's edge, as far as it is late. */
.ray {
  position: absolute;
  z-index: 1;
  right: 0;
  bottom: 0;
  width: calc(var(--ray) * (var(--margin) - 8px));
  height: 2px;
  background: var(--fault);
}
.ray.broken {
  background: linear-gradient(90deg, transparent 6px, var(--fault) 6px 14px, transparent 14px 20px, var(--fault) 20px);
}
.what {
  position: relative;
  margin-left: var(--gap-4);
  padding-left: 9px !important;
  border-left: 3px solid transparent;
  min-width: 0;
}
.hued {
  border-left-color: var(--hue);
}
.name {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.name a {
  display: inline !important;
  min-height: 0 !important;
  color: inherit;
  text-decoration: none;
}
/* All that is told of it leads to it. */
.name a::after {
  content: '';
  position: absolute;
  inset: 0;
}
.name a:hover,
.name a:focus-visible {
  text-decoration: underline;
}
.tells,
.why {
  color: var(--quiet);
  font-size: 13px;
  line-height: 1.35;
}
.late {
  display: none;
  color: var(--fault);
  font-weight: 600;
}
.done .name {
  font-weight: 400;
  text-decoration: line-through;
  color: var(--quiet);
}
.does {
  display: flex;
  gap: var(--gap-3);
  justify-content: flex-end;
  align-items: baseline;
  min-width: 150px;
}
.verb {
  border: 0;
  background: none;
  padding: 2px 4px;
  min-height: 28px;
  color: var(--moss);
  font-weight: 600;
  cursor: pointer;
  text-align: right;
}
.verb:hover {
  text-decoration: underline;
}
.held > :not(.when) {
  background: var(--sheet);
  box-shadow:
    0 -1px 0 var(--copper),
    0 1px 0 var(--copper);
}
.held .what {
  border-left-color: var(--copper);
}
@media (max-width: 760px) {
  .duty {
    position: relative;
    grid-template-columns: minmax(0, 1fr) auto;
    column-gap: var(--gap-2);
    border-top: 1px solid var(--line);
  }
  .what {
    margin-left: 0;
  }
  .duty > :not(.when),
  .duty + .duty > :not(.when) {
    border-top: 0;
    padding: 5px 0;
  }
  .when {
    position: absolute;
    inset: auto 0 -1px 0;
    padding: 0;
  }
  .when b,
  .due,
  .why {
    display: none;
  }
  .done .why {
    display: block;
    grid-column: 1;
    grid-row: 2;
    padding: 0 0 5px 12px !important;
  }
  .ray {
    width: calc(var(--ray) * 62vw);
  }
  .late {
    display: inline;
  }
  .does {
    min-width: 0;
    align-items: center;
    gap: 0;
  }
  .verb,
  .does .link {
    min-height: 44px;
    padding: 0 8px;
  }
}
</style>
