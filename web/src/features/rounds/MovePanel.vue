<script setup lang="ts">
// To another day, or to somebody else: the days that come with how full each is, since that is what one compares.
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import type { Duty, RoundsView } from '@/api/types'
import DatePick from '@/features/cell/DatePick.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { canGive, canMove, targets } from './rounds'

const props = defineProps<{ duty: Duty; view: RoundsView; busy: boolean; trouble?: string }>()
const emit = defineEmits<{ move: [day: string | undefined]; give: [person: number]; leave: [] }>()

const days = computed(() => (canMove(props.duty) ? targets(props.view).filter((one) => one.day !== props.duty.day) : []))
/** What was chosen: a day, none, or somebody. */
const day = ref<string>()
const none = ref(false)
const person = ref<number>()
const other = computed(() => (day.value && !days.value.some((one) => one.day === day.value) ? day.value : ''))
const others = computed(() =>
  props.view.people.filter((one) => one.id !== props.view.person).map((one) => ({ value: one.id, title: one.name })),
)
const does = computed(() => {
  if (person.value !== undefined) return `Hand it to ${others.value.find((one) => one.value === person.value)?.title}`
  if (none.value) return 'Set down without a day'
  const known = days.value.find((one) => one.day === day.value)
  return day.value ? `Set down on ${known ? (known.day === props.view.diary.today ? 'today' : known.title) : 'that day'}` : 'Set down'
})

function choose(chosen: { day?: string; none?: boolean; person?: number }) {
  day.value = chosen.day
  none.value = !!chosen.none
  person.value = chosen.person
}
function set() {
  if (person.value !== undefined) emit('give', person.value)
  else emit('move', none.value ? undefined : day.value)
}
const panel = useTemplateRef<HTMLElement>('panel')
onMounted(() => panel.value?.querySelector<HTMLElement>('button, input')?.focus())
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- a group whose Escape leaves it -->
  <div ref="panel" class="panel" role="group" :aria-label="`Move ${duty.name}`" data-test="move-panel" @keydown.esc="emit('leave')">
    <p class="lead"
      >Move <b>{{ duty.name }}</b> <template v-if="days.length">to</template></p
    >
    <ul v-if="days.length" class="days">
      <li v-for="one in days" :key="one.day">
        <button type="button" :aria-pressed="day === one.day" :data-day="one.day" @click="choose({ day: one.day })">
          <b>{{ one.title }}</b> <span class="about">{{ one.about }}</span> <span class="full">{{ one.full }}</span>
        </button>
      </li>
    </ul>
    <div v-if="canMove(duty)" class="other">
      <DatePick
        label="another day"
        says="another day"
        :model-value="other || undefined"
        @update:model-value="choose($event ? { day: $event } : {})"
      />
      <button type="button" class="link" :aria-pressed="none" data-test="no-day" @click="choose({ none: true })">no day</button>
    </div>
    <p v-if="canGive(duty)" class="give"
      >or hand it to
      <PickOne
        said
        :model-value="person"
        hint="somebody else"
        aria-label="Somebody else"
        data-test="hand-to"
        :items="others"
        @update:model-value="choose({ person: $event })"
    /></p>
    <p v-if="duty.fixed" class="give">{{ duty.fixed }}</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <div class="acts">
      <v-btn variant="outlined" @click="emit('leave')">Leave it</v-btn>
      <v-btn
        v-if="canMove(duty) || canGive(duty)"
        color="primary"
        :disabled="busy || (day === undefined && !none && person === undefined)"
        data-test="set-down"
        @click="set"
        >{{ does }}</v-btn
      >
    </div>
  </div>
</template>

<style scoped>
.panel {
  position: fixed;
  z-index: 5;
  right: 0;
  bottom: 0;
  left: 0;
  max-width: 640px;
  max-height: 80dvh;
  overflow: auto;
  margin: 0 auto;
  padding: var(--gap-3) var(--gap-4) var(--gap-4);
  border-top: 3px solid var(--copper);
  background: var(--sheet);
}
.lead,
.give {
  margin: 0 0 var(--gap-2);
  font: 17px/1.4 var(--serif);
}
.days {
  margin: 0;
  padding: 0;
  list-style: none;
}
.days button {
  display: grid;
  grid-template-columns: 110px 110px minmax(0, 1fr);
  gap: var(--gap-2);
  align-items: baseline;
  width: 100%;
  min-height: 44px;
  padding: 0 var(--gap-2);
  border: 0;
  border-top: 1px solid var(--line);
  border-left: 3px solid transparent;
  background: none;
  text-align: left;
  cursor: pointer;
}
.days b {
  font: 600 16px var(--serif);
}
.days [aria-pressed='true'] {
  border-left-color: var(--copper);
  background: var(--copper-soft);
}
.about,
.full {
  color: var(--quiet);
  font-size: 13.5px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.days [aria-pressed='true'] :is(.about, .full) {
  color: var(--ink);
}
.other {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  padding: var(--gap-2) 0;
  border-top: 1px solid var(--line);
}
.other [aria-pressed='true'] {
  font-weight: 600;
}
.acts {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: var(--gap-2);
  margin-top: var(--gap-2);
}
.acts .v-btn {
  min-height: 44px;
}
@media (max-width: 760px) {
  .give :deep(.v-field__input) {
    min-height: 44px;
  }
}
@media (max-width: 500px) {
  .days button {
    grid-template-columns: 92px minmax(0, 1fr);
  }
  .about {
    display: none;
  }
}
</style>
