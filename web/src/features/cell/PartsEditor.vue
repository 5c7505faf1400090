<script setup lang="ts">
// Values that are made of several parts, each with its own box: a rating, a range, a location, a web address, a checklist.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, nextTick, onMounted, ref } from 'vue'
import type { Cell, Field, Input, Value } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import DatePick from './DatePick.vue'

const { tracker: currentTracker } = useTracker()

interface Item {
  text: string
  done?: boolean
  person?: number | null
  due?: string | null
}

const props = defineProps<{ field: Field; cell: Cell | null | undefined }>()
const emit = defineEmits<{ commit: [input: Input]; cancel: [] }>()

const kind = computed(() => props.field.kind)
const value = computed<Value>(() => props.cell?.value ?? 'empty')
const part = <K extends string>(key: K) =>
  typeof value.value === 'object' && key in value.value ? (value.value as Record<K, unknown>)[key] : undefined
const box = ref<HTMLElement>()

const rating = ref(Number(part('number') ?? 0))
const range = ref((part('range') as [string, string] | undefined) ?? ['', ''])
const place = ref({ label: '', latitude: '', longitude: '', ...(part('place') as object | undefined) })
const web = ref({ address: '', title: '', ...(part('web') as object | undefined) })
const items = ref<Item[]>(((part('checklist') as Item[] | undefined) ?? []).map((item) => ({ ...item })))
const more = ref('')
const people = computed(() => currentTracker.value?.people ?? [])

onMounted(() => void nextTick(() => box.value?.querySelector<HTMLElement>('input, button')?.focus()))

function addItem() {
  if (more.value.trim()) items.value.push({ text: more.value.trim(), done: false })
  more.value = ''
}

function commit() {
  const now = kind.value.type
  if (now === 'range')
    return emit('commit', range.value[0] ? { value: { range: [range.value[0], range.value[1] || range.value[0]] } } : { value: 'empty' })
  if (now === 'place') {
    const { label, latitude, longitude } = place.value
    return emit('commit', latitude && longitude ? { text: `${label} (${latitude}, ${longitude})` } : { value: 'empty' })
  }
  if (now === 'web')
    return emit('commit', web.value.address ? { text: `${web.value.title} ${web.value.address}`.trim() } : { value: 'empty' })
  if (now === 'checklist') {
    addItem()
    const kept = items.value
      .filter((i) => i.text.trim())
      .map((i) => ({ text: i.text, done: !!i.done, person: i.person ?? null, due: i.due || null }))
    return emit('commit', kept.length ? { value: { checklist: kept } } : { value: 'empty' })
  }
}

function rate(stars: number) {
  emit('commit', stars === rating.value ? { value: 'empty' } : { value: { number: String(stars) } })
}

function keys(event: KeyboardEvent) {
  if (event.key === 'Escape') emit('cancel')
  else if (event.key === 'Enter' && kind.value.type !== 'checklist' && kind.value.type !== 'rating') commit()
  else return event.stopPropagation()
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div ref="box" class="parts" data-test="parts" @keydown="keys" @mousedown.stop @click.stop>
    <div v-if="kind.type === 'rating'" role="radiogroup" :aria-label="field.name">
      <button
        v-for="n in kind.most"
        :key="n"
        type="button"
        role="radio"
        :aria-checked="n === rating"
        :aria-label="`${n} of ${kind.most}`"
        class="star"
        @click="rate(n)"
        >{{ n <= rating ? '★' : '☆' }}</button
      >
    </div>
    <template v-else>
      <template v-if="kind.type === 'range'">
        <span>From <DatePick v-model="range[0]" label="From" /></span>
        <span>to <DatePick v-model="range[1]" label="to" :min="range[0]" /></span>
      </template>
      <template v-else-if="kind.type === 'place'">
        <label>What is there <input v-model="place.label" /></label>
        <label>Latitude <input v-model="place.latitude" inputmode="decimal" placeholder="54.1234" /></label>
        <label>Longitude <input v-model="place.longitude" inputmode="decimal" placeholder="-2.4321" /></label>
      </template>
      <template v-else-if="kind.type === 'web'">
        <label>Address <input v-model="web.address" type="url" placeholder="https://" /></label>
        <label>Title <input v-model="web.title" /></label>
      </template>
      <template v-else-if="kind.type === 'checklist'">
        <div v-for="(item, n) in items" :key="n" class="item">
          <input v-model="item.done" type="checkbox" :aria-label="`${item.text} is done`" />
          <input v-model="item.text" :aria-label="`Item ${n + 1}`" />
          <PickOne
            v-model="item.person"
            :aria-label="`Who does ${item.text}`"
            :items="[{ value: undefined, title: 'nobody yet' }, ...named(people)]"
          />
          <DatePick :model-value="item.due" :label="`${item.text} is due`" @update:model-value="item.due = $event || undefined" />
          <button type="button" :aria-label="`Take out ${item.text}`" @click="items.splice(n, 1)">×</button>
        </div>
        <input v-model="more" placeholder="One more thing to do" aria-label="One more thing to do" @keydown.enter.prevent="addItem" />
      </template>
      <div class="acts">
        <button type="button" class="keep" data-test="keep-parts" @click="commit">Keep</button>
        <button type="button" @click="emit('cancel')">Leave</button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.parts {
  background: var(--sheet);
  border: 2px solid var(--moss);
  padding: 6px;
  display: grid;
  gap: 4px;
  min-width: 220px;
  white-space: normal;
}
label {
  display: grid;
  grid-template-columns: 76px 1fr;
  align-items: center;
  color: var(--quiet);
  font-size: 12.5px;
}
input:not([type='checkbox']) {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 3px 6px;
  min-width: 0;
  font-size: 13px;
}
.item {
  display: grid;
  grid-template-columns: 18px minmax(110px, 1fr) 100px 120px 18px;
  gap: 4px;
  align-items: center;
}
button {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
}
.star {
  font-size: 20px;
  color: var(--gorse);
  padding: 0 2px;
}
.keep {
  color: var(--moss);
  font-weight: 600;
}
</style>
