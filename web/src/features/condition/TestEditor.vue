<script setup lang="ts">
// One test: a field (perhaps along links), a way to test it, and with what.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Check, RecordName, Table, Test, Who } from '@/api/types'
import { currentTracker } from '@/features/tracker/tracker'
import { options } from '@/features/cell/kinds'
import { body, paths, ways } from './checks'
import { selectAll } from './selectAll'

const props = defineProps<{ table: Table; modelValue: Test }>()
const emit = defineEmits<{ 'update:modelValue': [test: Test] }>()

const choices = computed(() => (currentTracker.value ? paths(currentTracker.value, props.table) : []))
const key = computed(() => props.modelValue.path.join('.'))
const choice = computed(() => choices.value.find((c) => c.key === key.value))
const offered = computed(() => (choice.value ? ways(choice.value.field) : []))
const way = computed(() => offered.value.find((w) => w.is(props.modelValue.check)))
const check = computed(() => props.modelValue.check)

function setPath(next: string) {
  const chosen = choices.value.find((c) => c.key === next)
  if (chosen) emit('update:modelValue', { path: chosen.path, of: 'any', check: ways(chosen.field)[0]!.make() })
}

function setCheck(next: Check) {
  emit('update:modelValue', { ...props.modelValue, check: next })
}

/** Another way of testing keeps what it was tested with, where that fits. */
function setWay(next: string) {
  const made = offered.value.find((w) => w.key === next)?.make()
  if (!made) return
  if (typeof made === 'object' && typeof check.value === 'object') {
    const [sort, fresh] = Object.entries(made)[0] as [string, object]
    const old = (check.value as Record<string, object>)[sort]
    if (old) return setCheck({ [sort]: { ...old, ...pick(fresh, ['how', 'not']) } } as unknown as Check)
  }
  setCheck(made)
}

function pick(from: object, keys: string[]): object {
  return Object.fromEntries(Object.entries(from).filter(([name]) => keys.includes(name)))
}

const PERIODS = [
  ['today', 'today'],
  ['yesterday', 'yesterday'],
  ['tomorrow', 'tomorrow'],
  ['this_week', 'this week'],
  ['last_week', 'last week'],
  ['next_week', 'next week'],
  ['this_month', 'this month'],
  ['last_month', 'last month'],
  ['next_month', 'next month'],
  ['this_quarter', 'this quarter'],
  ['last_quarter', 'last quarter'],
  ['this_year', 'this year'],
  ['last_year', 'last year'],
] as const
type NamedPeriod = (typeof PERIODS)[number][0]

const period = computed(() => body(check.value, 'within')?.period)
const spanDays = computed(() => {
  const now = period.value
  if (typeof now !== 'object') return undefined
  return 'last_days' in now ? { key: 'last_days' as const, days: now.last_days } : { key: 'next_days' as const, days: now.next_days }
})

function setPeriod(next: string) {
  if (next === 'last_days') setCheck({ within: { period: { last_days: 7 } } })
  else if (next === 'next_days') setCheck({ within: { period: { next_days: 7 } } })
  else setCheck({ within: { period: next as NamedPeriod } })
}

function setSpanDays(text: string) {
  const days = Math.max(1, Math.floor(Number(text)) || 1)
  setCheck({ within: { period: spanDays.value?.key === 'next_days' ? { next_days: days } : { last_days: days } } })
}

const day = computed(() => body(check.value, 'day'))
const fixed = computed(() => (day.value && 'date' in day.value.than ? day.value.than.date : undefined))
const fromToday = computed(() => (day.value && 'today' in day.value.than ? day.value.than.today : 0))

function setDay(than: { date: string } | { today: number }) {
  if (day.value) setCheck({ day: { ...day.value, than } })
}

const people = computed<{ key: string; name: string; who: Who }[]>(() => [
  { key: 'me', name: 'me', who: 'me' },
  ...(currentTracker.value?.people ?? []).map((p) => ({ key: String(p.id), name: p.name, who: { person: p.id } })),
])
const whoKey = (who: Who) => (who === 'me' ? 'me' : String(who.person))

function togglePerson(one: { key: string; who: Who }) {
  const now = body(check.value, 'person')
  if (!now) return
  const has = now.any.some((w) => whoKey(w) === one.key)
  setCheck({ person: { ...now, any: has ? now.any.filter((w) => whoKey(w) !== one.key) : [...now.any, one.who] } })
}

function toggleOption(id: number) {
  const now = body(check.value, 'option')
  if (!now) return
  setCheck({ option: { ...now, any: now.any.includes(id) ? now.any.filter((o) => o !== id) : [...now.any, id] } })
}

const names = ref<RecordName[]>([])
const search = ref('')
const target = computed(() => (choice.value?.field.shows.type === 'link' ? choice.value.field.shows.to : undefined))
watch(
  [target, search],
  async ([table, text]) => {
    const tracker = currentTracker.value
    if (!table || !tracker) return
    const found = await told(
      api.GET('/api/trackers/{tracker}/tables/{table}/names', {
        params: { path: { tracker: tracker.id, table }, query: { search: text } },
      }),
    ).catch(() => [])
    // Those chosen before stay to be seen.
    const chosen = body(check.value, 'record')?.any ?? []
    names.value = [...names.value.filter((n) => chosen.includes(n.id) && !found.some((f) => f.id === n.id)), ...found]
  },
  { immediate: true },
)

function toggleRecord(id: number) {
  const now = body(check.value, 'record')
  if (!now) return
  setCheck({ record: { ...now, any: now.any.includes(id) ? now.any.filter((r) => r !== id) : [...now.any, id] } })
}
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <div class="test">
    <div class="head">
      <v-autocomplete
        :model-value="key"
        :items="choices"
        item-value="key"
        item-title="name"
        aria-label="Field"
        class="field"
        @focus="selectAll"
        @update:model-value="$event && setPath($event)"
      />
      <select :value="way?.key" aria-label="How it is tested" data-test="way" @change="setWay(value($event))">
        <option v-for="one in offered" :key="one.key" :value="one.key">{{ one.name }}</option>
      </select>
    </div>
    <input
      v-if="body(check, 'text')"
      :value="body(check, 'text')!.text"
      aria-label="Compared with"
      @input="setCheck({ text: { ...body(check, 'text')!, text: value($event) } })"
    />
    <input
      v-else-if="body(check, 'number')"
      :value="body(check, 'number')!.than"
      inputmode="decimal"
      aria-label="Compared with"
      @change="setCheck({ number: { ...body(check, 'number')!, than: value($event) || '0' } })"
    />
    <div v-else-if="body(check, 'between')" class="pair">
      <input
        :value="body(check, 'between')!.least"
        inputmode="decimal"
        aria-label="Least"
        @change="setCheck({ between: { ...body(check, 'between')!, least: value($event) || '0' } })"
      />
      to
      <input
        :value="body(check, 'between')!.most"
        inputmode="decimal"
        aria-label="Most"
        @change="setCheck({ between: { ...body(check, 'between')!, most: value($event) || '0' } })"
      />
    </div>
    <div v-else-if="body(check, 'within')" class="pair">
      <select :value="spanDays?.key ?? period" aria-label="Period" @change="setPeriod(value($event))">
        <option v-for="[id, name] in PERIODS" :key="id" :value="id">{{ name }}</option>
        <option value="last_days">the last … days</option>
        <option value="next_days">the next … days</option>
      </select>
      <input v-if="spanDays" type="number" min="1" :value="spanDays.days" aria-label="Days" @change="setSpanDays(value($event))" />
    </div>
    <div v-else-if="body(check, 'older')" class="pair">
      <input
        type="number"
        min="0"
        :value="body(check, 'older')!.days"
        aria-label="Days"
        @change="setCheck({ older: { days: Number(value($event)) || 0 } })"
      />
      days
    </div>
    <div v-else-if="day" class="pair">
      <select
        :value="fixed === undefined ? 'today' : 'date'"
        aria-label="Which day"
        @change="setDay(value($event) === 'date' ? { date: new Date().toISOString().slice(0, 10) } : { today: 0 })"
      >
        <option value="today">days from today</option>
        <option value="date">a fixed day</option>
      </select>
      <input
        v-if="fixed !== undefined"
        type="date"
        :value="fixed"
        aria-label="Day"
        @change="value($event) && setDay({ date: value($event) })"
      />
      <input
        v-else
        type="number"
        :value="fromToday"
        aria-label="Days from today, negative before it"
        @change="setDay({ today: Number(value($event)) || 0 })"
      />
    </div>
    <div v-else-if="body(check, 'option')" class="many" role="group" aria-label="Options">
      <label v-for="option in choice ? options(choice.field) : []" :key="option.id">
        <input type="checkbox" :checked="body(check, 'option')!.any.includes(option.id)" @change="toggleOption(option.id)" />
        <span class="choice" :style="{ '--hue': `var(--${option.hue})` }">{{ option.name }}</span>
      </label>
    </div>
    <div v-else-if="body(check, 'person')" class="many" role="group" aria-label="People">
      <label v-for="one in people" :key="one.key">
        <input type="checkbox" :checked="body(check, 'person')!.any.some((w) => whoKey(w) === one.key)" @change="togglePerson(one)" />
        {{ one.name }}
      </label>
    </div>
    <div v-else-if="body(check, 'record')">
      <input v-model="search" placeholder="Type to find" aria-label="Find records" />
      <div class="many" role="group" aria-label="Records">
        <label v-for="one in names" :key="one.id">
          <input type="checkbox" :checked="body(check, 'record')!.any.includes(one.id)" @change="toggleRecord(one.id)" />
          {{ one.name }}
        </label>
      </div>
    </div>
  </div>
</template>

<style scoped>
.test {
  display: grid;
  gap: var(--gap-2);
  flex: 1;
}
.head {
  display: grid;
  grid-template-columns: minmax(170px, 1fr) auto;
  gap: var(--gap-2);
}
select,
.test > input,
.pair input,
.test input:not([type='checkbox']) {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 6px 8px;
  min-height: 40px;
}
.head :deep(input) {
  border: 0 !important;
  min-height: 0 !important;
}
.pair {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
}
.pair input {
  width: 120px;
}
.many {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  gap: 4px var(--gap-3);
  max-height: 200px;
  overflow-y: auto;
  padding: 4px 2px;
}
.many label {
  display: flex;
  gap: 7px;
  align-items: center;
  cursor: pointer;
}
.many input {
  accent-color: var(--moss);
}
</style>
