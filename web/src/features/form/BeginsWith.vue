<script setup lang="ts">
// What a question begins with, edited as its kind is answered.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Field, RecordName, Value } from '@/api/types'
import { currentTracker } from '@/features/tracker/tracker'

const props = defineProps<{ field: Field }>()
const value = defineModel<Value | null | undefined>({ required: true })

const kind = computed(() => props.field.kind)
const people = computed(() => currentTracker.value?.people ?? [])
const part = <T,>(key: string, none: T): T => {
  const now = value.value
  return now && typeof now === 'object' && key in now ? ((now as Record<string, unknown>)[key] as T) : none
}

/** The kinds of which one value is typed or picked, each as the value that is kept. */
const VALUES: Partial<Record<string, { key: string; put: (text: string) => Value; get?: (kept: string) => string }>> = {
  text: { key: 'text', put: (text) => ({ text }) },
  long_text: { key: 'text', put: (text) => ({ text }) },
  email: { key: 'text', put: (text) => ({ text }) },
  phone: { key: 'text', put: (text) => ({ text }) },
  number: { key: 'number', put: (number) => ({ number }) },
  money: { key: 'number', put: (number) => ({ number }) },
  rating: { key: 'number', put: (number) => ({ number }) },
  percent: { key: 'number', put: (text) => ({ number: String(Number(text) / 100) }), get: (kept) => String(Number(kept) * 100) },
  date: { key: 'date', put: (date) => ({ date }) },
}
const one = computed(() => VALUES[kind.value.type])
const typed = computed({
  get: () => {
    const kept = one.value ? part(one.value.key, '') : ''
    return kept && one.value?.get ? one.value.get(kept) : kept
  },
  set: (text) => (value.value = text && one.value ? one.value.put(text) : null),
})
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
const checked = (event: Event) => (event.target as HTMLInputElement).checked
const picked = (event: Event) => Number((event.target as HTMLSelectElement).value)
</script>

<template>
  <label v-if="kind.type === 'choice'">
    Begins with
    <select :value="part('choice', '')" data-test="begins" @change="value = picked($event) ? { choice: picked($event) } : null">
      <option value="">nothing</option>
      <option v-for="option in kind.options" :key="option.id" :value="option.id">{{ option.name }}</option>
    </select>
  </label>
  <fieldset v-else-if="kind.type === 'choices'">
    <legend>Begins with</legend>
    <label v-for="option in kind.options" :key="option.id"><input type="checkbox" :checked="part<number[]>('choices', []).includes(option.id)" @change="setMany('choices', option.id, checked($event))" /> {{ option.name }}</label>
  </fieldset>
  <label v-else-if="kind.type === 'person'">
    Begins with
    <select :value="part('person', '')" @change="value = picked($event) ? { person: picked($event) } : null">
      <option value="">nobody</option>
      <option v-for="person in people" :key="person.id" :value="person.id">{{ person.name }}</option>
    </select>
  </label>
  <fieldset v-else-if="kind.type === 'people'">
    <legend>Begins with</legend>
    <label v-for="person in people" :key="person.id"><input type="checkbox" :checked="part<number[]>('people', []).includes(person.id)" @change="setMany('people', person.id, checked($event))" /> {{ person.name }}</label>
  </fieldset>
  <label v-else-if="kind.type === 'yes_no'">
    Begins with
    <select :value="value ? String(part('logical', false)) : ''" @change="value = ($event.target as HTMLSelectElement).value ? { logical: ($event.target as HTMLSelectElement).value === 'true' } : null">
      <option value="">nothing</option>
      <option value="true">yes</option>
      <option value="false">no</option>
    </select>
  </label>
  <span v-else-if="kind.type === 'range'">
    Begins with <input type="date" aria-label="From" :value="range[0]" @change="setRange(0, ($event.target as HTMLInputElement).value)" /> to
    <input type="date" aria-label="To" :value="range[1]" @change="setRange(1, ($event.target as HTMLInputElement).value)" />
  </span>
  <span v-else-if="kind.type === 'link'">
    <label>Begins with
      <select :value="linked ?? ''" data-test="begins-link" @change="value = picked($event) ? { links: [picked($event)] } : null">
        <option value="">nothing</option>
        <option v-if="linked && !names.some((n) => n.id === linked)" :value="linked">the record chosen before</option>
        <option v-for="name in names" :key="name.id" :value="name.id">{{ name.name }}</option>
      </select>
    </label>
    <input v-model="search" placeholder="find" class="short" aria-label="Find a record" />
  </span>
  <label v-else-if="one">Begins with <input v-model="typed" :type="kind.type === 'date' ? 'date' : 'text'" class="short" /></label>
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
.short {
  width: 110px;
}
</style>
