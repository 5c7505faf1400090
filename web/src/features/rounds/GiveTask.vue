<script setup lang="ts">
// Asking something of somebody in one sentence: of whom, what, by when, how urgent, and what is good to know.
import { computed, ref, useTemplateRef } from 'vue'
import { api, told } from '@/api/client'
import type { Colleague, NewTask } from '@/api/types'
import { useDoing } from '@/app/asking'
import DatePick from '@/features/cell/DatePick.vue'
import PickOne from '@/features/menu/PickOne.vue'

const props = defineProps<{
  people: Colleague[]
  /** Oneself. */
  me: number
  /** What it is about. */
  about?: [number, number, number]
}>()
const emit = defineEmits<{ given: [name: string] }>()

// About a record one reminds oneself more often than others.
const who = ref<number | undefined>(props.about && props.me)
const what = ref('')
const due = ref<string>()
const urgent = ref(false)
const note = ref('')
const { trouble, busy, attempt, at } = useDoing()
const known = computed(() => {
  const others = props.people.filter((one) => one.id !== props.me).map((one) => ({ value: one.id, title: one.name }))
  return [...others, { value: props.me, title: 'myself' }]
})
const URGENT = [
  { value: false, title: 'not urgent' },
  { value: true, title: 'urgent' },
]
const line = useTemplateRef<HTMLInputElement>('line')

async function give() {
  if (who.value === undefined) return
  const body: NewTask = {
    who: who.value,
    what: what.value,
    due: due.value || null,
    urgent: urgent.value,
    note: note.value,
    about: props.about ?? null,
  }
  const given = await attempt(() => told(api.POST('/api/tasks', { body })))
  if (!given) return
  const name = known.value.find((one) => one.value === who.value)?.title ?? ''
  what.value = note.value = ''
  due.value = undefined
  urgent.value = false
  emit('given', name)
  line.value?.focus()
}
</script>

<template>
  <form class="give" aria-label="Ask something of somebody" data-test="give-task" @submit.prevent="give">
    <p class="sentence">
      Ask
      <PickOne v-model="who" said hint="someone" aria-label="Of whom" data-test="task-who" :items="known" />
      to
      <input
        ref="line"
        v-model="what"
        class="boxed what"
        maxlength="200"
        placeholder="do what"
        aria-label="What is to be done"
        :aria-invalid="!!at('/what')"
        data-test="task-what"
      />
      by
      <span class="day"><DatePick label="which day" says="which day" :model-value="due" @update:model-value="due = $event" /></span>,
      <PickOne v-model="urgent" said aria-label="How urgent" :items="URGENT" /><template v-if="what || note"
        >, noting
        <input
          v-model="note"
          class="boxed note"
          maxlength="2000"
          placeholder="nothing more"
          aria-label="A note"
          data-test="task-note" /></template
      >.
    </p>
    <v-btn type="submit" variant="outlined" :disabled="busy || who === undefined" data-test="give-it">Give it</v-btn>
    <p v-if="trouble" class="fault-text" role="alert">{{ at('/what', '/who', '/note') ?? trouble }}</p>
  </form>
</template>

<style scoped>
.give {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-4);
  align-items: center;
  padding: var(--gap-3) 0;
}
.sentence {
  display: flex;
  flex: 1 1 420px;
  flex-wrap: wrap;
  gap: 4px 7px;
  align-items: baseline;
  margin: 0;
  font: 18px/1.6 var(--serif);
}
.boxed {
  padding: 3px 8px;
  font: 15px var(--sans);
}
.what {
  flex: 2 1 180px;
  min-width: 150px;
}
.note {
  flex: 1 1 110px;
  min-width: 110px;
}
.day {
  display: inline-block;
  width: 150px;
}
.day :deep(input) {
  padding: 4px 8px;
  min-height: 0;
  font: 15px var(--sans);
}
.fault-text {
  flex-basis: 100%;
  margin: 0;
}
@media (max-width: 760px) {
  .boxed,
  .give .v-btn {
    min-height: 44px;
  }
}
</style>
