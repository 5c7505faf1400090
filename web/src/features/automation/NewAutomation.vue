<script setup lang="ts">
// The first sentence of a new automation: of what, when, and what it is called. It begins switched off, and what it does is said in its
// paragraph.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, onMounted, ref } from 'vue'
import type { AutomationBody } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import OccasionEditor from './OccasionEditor.vue'
import type { Occasion } from './occasions'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ tracker: number; table?: number; field?: number; /** Begun from a button. */ pressed?: boolean }>()
const emit = defineEmits<{ made: []; leave: [] }>()

const parts = useParts(() => props.tracker)
const { trouble, attempt } = useDoing()
const name = ref('')
const table = ref(props.table ?? currentTracker.value?.tables[0]?.id ?? 0)
const home = computed(() => currentTracker.value?.tables.find((t) => t.id === table.value))
/** What one came from says what it is about: a day's field its day, a button its press, any other its change. */
function begun(): Occasion {
  const field = home.value?.fields.find((one) => one.id === props.field)
  if (!field) return props.pressed ? 'pressed' : 'added'
  if (field.kind.type === 'button') return 'pressed'
  if (['date', 'date_time', 'range'].includes(field.shows.type)) return { date: { field: field.id, days: 0, at: 420, working: false } }
  return { changed: [field.id] }
}
const when = ref<Occasion>(begun())
function go(to: number) {
  table.value = to
  // What was said of another table's forms and fields is not said of this one's.
  if (typeof when.value === 'object' && !('every' in when.value)) when.value = 'added'
}

const sentence = ref<HTMLFormElement>()
// The first of a list's boxes is one that nobody sees.
onMounted(() => sentence.value?.querySelector<HTMLElement>('input[role=combobox]')?.focus())

async function make() {
  const body: AutomationBody = {
    table: table.value,
    name: name.value,
    on: false,
    when: when.value,
    condition: { all: [] },
    steps: [],
  }
  if (await attempt(() => parts.make({ automation: body }))) emit('made')
}
</script>

<template>
  <form ref="sentence" class="new" aria-label="A new automation" data-test="new-automation" @submit.prevent="make">
    <p>
      Something is done by itself for
      <PickOne
        :model-value="table"
        said
        aria-label="Table"
        :items="(currentTracker?.tables ?? []).map((one) => ({ value: one.id, title: one.many }))"
        @update:model-value="go($event!)"
      />
    </p>
    <OccasionEditor v-if="home" v-model="when" :table="home" />
    <p class="acts">
      <input v-model="name" placeholder="Name of the automation" aria-label="Name" data-test="new-name" />
      <v-btn color="primary" type="submit" :disabled="!name.trim()" data-test="make-automation">Make it, and say what it does</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </form>
</template>

<style scoped>
.new {
  border-top: 3px solid var(--copper);
  padding-top: var(--gap-3);
  max-width: 640px;
  font: 17px/1.7 var(--serif);
}
p {
  margin: 0 0 6px;
}
.acts input {
  font: 15px var(--sans);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 4px 6px;
}
.acts {
  font: 14px var(--sans);
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
</style>
