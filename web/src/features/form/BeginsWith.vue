<script setup lang="ts">
// What a question begins with, edited as its kind is answered.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Field, RecordName, Value } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'
import DatePick from '@/features/cell/DatePick.vue'

const { tracker: currentTracker } = useTracker()

const props = withDefaults(defineProps<{ field: Field; table: number; given?: string; /** What stands before it. */ says?: string }>(), {
  given: undefined,
  says: 'Begins with',
})
const value = defineModel<Value | null | undefined>({ required: true })

const kind = computed(() => props.field.kind)
const people = computed(() => currentTracker.value?.people ?? [])
const part = <T,>(key: string, none: T): T => {
  const now = value.value
  return now && typeof now === 'object' && key in now ? ((now as Record<string, unknown>)[key] as T) : none
}

// What is typed is read by the server, as a cell would be.
const TYPED = [
  'text',
  'long_text',
  'email',
  'phone',
  'number',
  'money',
  'percent',
  'rating',
  'date_time',
  'duration',
  'web',
  'place',
  'checklist',
]
const LINES = ['long_text', 'checklist']
const HINTS: Partial<Record<string, string>> = {
  duration: '2 h 30 min',
  place: 'Old gate (54.1234, -2.4321)',
  web: 'https://',
  checklist: 'A line for each thing',
  percent: '12.5%',
}
const { trouble: fault, attempt } = useDoing()
const text = ref<string>()
async function read(typed: string) {
  text.value = typed
  fault.value = ''
  if (!typed.trim()) return void (value.value = null)
  const path = { tracker: currentTracker.value?.id ?? 0, table: props.table, field: props.field.id }
  const answer = await attempt(() =>
    told(api.GET('/api/trackers/{tracker}/tables/{table}/fields/{field}/read', { params: { path, query: { text: typed } } })),
  )
  if (!answer) return
  value.value = answer.value
  text.value = undefined
}
const shown = computed(() => text.value ?? (value.value ? (props.given ?? '') : ''))
const date = computed({ get: () => part('date', ''), set: (date) => (value.value = date ? { date } : null) })
const range = computed(() => part<string[]>('range', ['', '']))
function setRange(place: number, day: string) {
  const [from = '', to = ''] = range.value.map((old, n) => (n === place ? day : old))
  value.value = from || to ? { range: [from || to, to || from] } : null
}
const toggled = (list: number[], id: number, on: boolean) => (on ? [...list, id] : list.filter((o) => o !== id))
function setMany(key: 'choices' | 'people', id: number, on: boolean) {
  const list = toggled(part<number[]>(key, []), id, on)
  value.value = list.length ? ({ [key]: list } as Value) : null
}

// The records that a link could begin with, as many as are named at once.
const search = ref('')
const names = ref<RecordName[]>([])
watch(
  [kind, search],
  async () => {
    const tracker = currentTracker.value?.id
    if (kind.value.type !== 'link' || !tracker) return
    const params = { path: { tracker, table: kind.value.to }, query: { search: search.value } }
    names.value = await told(api.GET('/api/trackers/{tracker}/tables/{table}/names', { params })).catch(() => [])
  },
  { immediate: true },
)
const linked = computed(() => part<number[]>('links', [])[0])
/** Those that are called so, and the one that is chosen, which may be called otherwise. */
const offered = computed(() => {
  const known = !linked.value || names.value.some((one) => one.id === linked.value)
  return known ? names.value : [{ id: linked.value, name: 'the record chosen before', beside: '' }, ...names.value]
})
const one = (kind: 'choice' | 'person') => part<number | ''>(kind, '')
const checked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <label v-if="kind.type === 'choice'">
    {{ says }}
    <PickOne
      :model-value="one('choice')"
      :aria-label="says || field.name"
      data-test="begins"
      :items="[{ value: '', title: 'nothing' }, ...named(kind.options)]"
      @update:model-value="value = Number($event) ? { choice: Number($event) } : null"
    />
  </label>
  <fieldset v-else-if="kind.type === 'choices'">
    <legend>{{ says }}</legend>
    <label v-for="option in kind.options" :key="option.id"
      ><input
        type="checkbox"
        :checked="part<number[]>('choices', []).includes(option.id)"
        @change="setMany('choices', option.id, checked($event))"
      />
      {{ option.name }}</label
    >
  </fieldset>
  <label v-else-if="kind.type === 'person'">
    {{ says }}
    <PickOne
      :model-value="one('person')"
      :aria-label="says || field.name"
      :items="[{ value: '', title: 'nobody' }, ...named(people)]"
      @update:model-value="value = Number($event) ? { person: Number($event) } : null"
    />
  </label>
  <fieldset v-else-if="kind.type === 'people'">
    <legend>{{ says }}</legend>
    <label v-for="person in people" :key="person.id"
      ><input
        type="checkbox"
        :checked="part<number[]>('people', []).includes(person.id)"
        @change="setMany('people', person.id, checked($event))"
      />
      {{ person.name }}</label
    >
  </fieldset>
  <label v-else-if="kind.type === 'yes_no'">
    {{ says }}
    <PickOne
      :model-value="value ? String(part('logical', false)) : ''"
      :aria-label="says || field.name"
      :items="[
        { value: '', title: 'nothing' },
        { value: 'true', title: 'yes' },
        { value: 'false', title: 'no' },
      ]"
      @update:model-value="value = $event ? { logical: $event === 'true' } : null"
    />
  </label>
  <span v-else-if="kind.type === 'range'">
    {{ says }}
    <DatePick label="From" :model-value="range[0]" @update:model-value="setRange(0, $event)" /> to
    <DatePick label="To" :model-value="range[1]" @update:model-value="setRange(1, $event)" />
  </span>
  <div v-else-if="kind.type === 'link'" class="linked">
    {{ says }}
    <v-autocomplete
      v-model:search="search"
      :model-value="linked ?? null"
      :items="offered"
      item-value="id"
      item-title="name"
      no-filter
      clearable
      persistent-clear
      placeholder="type to find one"
      no-data-text="Nothing is called like that."
      :aria-label="says || field.name"
      data-test="begins-link"
      @update:model-value="value = $event ? { links: [$event] } : null"
    />
  </div>
  <p v-else-if="kind.type === 'date'">{{ says }} <DatePick v-model="date" :label="says || field.name" /></p>
  <label v-else-if="TYPED.includes(kind.type)" class="typed">
    {{ says }}
    <textarea
      v-if="LINES.includes(kind.type)"
      rows="2"
      :value="shown"
      :placeholder="HINTS[kind.type]"
      data-test="begins"
      :aria-label="says || field.name"
      @change="read(($event.target as HTMLTextAreaElement).value)"
    />
    <input
      v-else
      :value="shown"
      :placeholder="HINTS[kind.type]"
      data-test="begins"
      :aria-label="says || field.name"
      @change="read(($event.target as HTMLInputElement).value)"
    />
    <span v-if="fault" class="fault-text">{{ fault }}</span>
  </label>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
}
legend {
  padding: 0;
}
.linked {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 6px;
  align-items: center;
  width: min(340px, 100%);
}
.typed {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 6px;
  align-items: center;
}
</style>
