<script setup lang="ts">
// One test: a field (perhaps along links), a way to test it, and with what.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Check, Period, RecordName, Table, Test, Who } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import { dayOf } from '@/features/cell/days'
import { options } from '@/features/cell/kinds'
import DatePick from '@/features/cell/DatePick.vue'
import { paths } from './checks'
import { selectAll } from './selectAll'
import { isSameSort, turnedInto, useVocabulary } from './vocabulary'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ table: Table; modelValue: Test }>()
const emit = defineEmits<{ 'update:modelValue': [test: Test] }>()

const { vocabulary, checks } = useVocabulary()
const choices = computed(() => (currentTracker.value ? paths(currentTracker.value, props.table) : []))
const key = computed(() => props.modelValue.path.join('.'))
const choice = computed(() => choices.value.find((c) => c.key === key.value))
const target = computed(() => (choice.value?.field.shows.type === 'link' ? choice.value.field.shows.to : undefined))
/** One of the people is *my record* only where the link leads to them. */
const toPeople = computed(() => currentTracker.value?.tables.some((table) => table.holds_people && table.id === target.value) ?? false)
/** Some checks ask more of a field than its kind. */
const asksMore: Partial<Record<Check['is'], () => boolean>> = {
  my_record: () => !!toPeople.value,
  differs: () => !!choice.value?.field.copies,
}
const offered = computed(() => checks(choice.value?.field.shows.type).filter((one) => asksMore[one.begins.is]?.() ?? true))
const check = computed(() => props.modelValue.check)
const way = computed(() => offered.value.findIndex((one) => isSameSort(one.begins, check.value)))

function setPath(next: string) {
  const chosen = choices.value.find((c) => c.key === next)
  const first = checks(chosen?.field.shows.type)[0]
  if (chosen && first) emit('update:modelValue', { path: chosen.path, of: 'any', check: first.begins })
}

function setCheck(next: Check) {
  emit('update:modelValue', { ...props.modelValue, check: next })
}

/** Another way of testing keeps what it was tested with, where that fits. */
function setWay(place: number) {
  const next = offered.value[place]
  if (next) setCheck(turnedInto(check.value, next.begins))
}

const period = computed(() => (check.value.is === 'within' ? check.value.period : undefined))
/** Of a period of so many days, which of the two it is. */
const counted = computed(() => (typeof period.value === 'object' ? ('last_days' in period.value ? 'last_days' : 'next_days') : undefined))
const days = computed(() => Object.values(typeof period.value === 'object' ? period.value : { days: 7 })[0] as number)
const periodKey = (one: Period) => (typeof one === 'string' ? one : Object.keys(one)[0]!)

function setPeriod(next: string) {
  const chosen = vocabulary.value?.periods.find((one) => periodKey(one.begins) === next)
  if (chosen) setCheck({ is: 'within', period: chosen.begins })
}

function setCounted(text: string) {
  const many = Math.max(1, Math.floor(Number(text)) || 1)
  setCheck({ is: 'within', period: counted.value === 'next_days' ? { next_days: many } : { last_days: many } })
}

const people = computed<{ key: string; name: string; who: Who }[]>(() => [
  { key: 'me', name: 'me', who: 'me' },
  ...(currentTracker.value?.people ?? []).map((p) => ({ key: String(p.id), name: p.name, who: { person: p.id } })),
])
const whoKey = (who: Who) => (who === 'me' ? 'me' : String(who.person))

const toggled = <T,>(list: T[], one: T, same = (other: T) => other === one) =>
  list.some(same) ? list.filter((other) => !same(other)) : [...list, one]

const names = ref<RecordName[]>([])
const search = ref('')
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
    const chosen = check.value.is === 'record' ? check.value.any : []
    names.value = [...names.value.filter((n) => chosen.includes(n.id) && !found.some((f) => f.id === n.id)), ...found]
  },
  { immediate: true },
)

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
      <PickOne
        :model-value="way"
        aria-label="How it is tested"
        data-test="way"
        :items="offered.map((one, place) => ({ value: place, title: one.name }))"
        @update:model-value="setWay(Number($event))"
      />
    </div>
    <input v-if="check.is === 'text'" :value="check.text" aria-label="Compared with" @input="setCheck({ ...check, text: value($event) })" />
    <input
      v-else-if="check.is === 'number'"
      :value="check.than"
      inputmode="decimal"
      aria-label="Compared with"
      @change="setCheck({ ...check, than: value($event) || '0' })"
    />
    <div v-else-if="check.is === 'between'" class="pair">
      <input :value="check.least" inputmode="decimal" aria-label="Least" @change="setCheck({ ...check, least: value($event) || '0' })" />
      to
      <input :value="check.most" inputmode="decimal" aria-label="Most" @change="setCheck({ ...check, most: value($event) || '0' })" />
    </div>
    <div v-else-if="check.is === 'within'" class="pair">
      <PickOne
        :model-value="periodKey(check.period)"
        aria-label="Period"
        :items="(vocabulary?.periods ?? []).map((one) => ({ value: periodKey(one.begins), title: one.name }))"
        @update:model-value="setPeriod($event)"
      />
      <input v-if="counted" type="number" min="1" :value="days" aria-label="Days" @change="setCounted(value($event))" />
    </div>
    <div v-else-if="check.is === 'older'" class="pair">
      <input
        type="number"
        min="0"
        :value="check.days"
        aria-label="Days"
        @change="setCheck({ ...check, days: Number(value($event)) || 0 })"
      />
      days
    </div>
    <div v-else-if="check.is === 'day'" class="pair">
      <PickOne
        :model-value="'date' in check.than ? 'date' : 'today'"
        aria-label="Which day"
        :items="[
          { value: 'today', title: 'days from today' },
          { value: 'date', title: 'a fixed day' },
        ]"
        @update:model-value="setCheck({ ...check, than: $event === 'date' ? { date: dayOf(new Date()) } : { today: 0 } })"
      />
      <DatePick
        v-if="'date' in check.than"
        :model-value="check.than.date"
        label="Day"
        @update:model-value="$event && setCheck({ ...check, than: { date: $event } })"
      />
      <input
        v-else
        type="number"
        :value="check.than.today"
        aria-label="Days from today, negative before it"
        @change="setCheck({ ...check, than: { today: Number(value($event)) || 0 } })"
      />
    </div>
    <div v-else-if="check.is === 'option'" class="many" role="group" aria-label="Options">
      <label v-for="option in choice ? options(choice.field) : []" :key="option.id">
        <input
          type="checkbox"
          :checked="check.any.includes(option.id)"
          @change="setCheck({ ...check, any: toggled(check.any, option.id) })"
        />
        <span class="choice" :style="{ '--hue': `var(--${option.hue})` }">{{ option.name }}</span>
      </label>
    </div>
    <div v-else-if="check.is === 'person'" class="many" role="group" aria-label="People">
      <label v-for="one in people" :key="one.key">
        <input
          type="checkbox"
          :checked="check.any.some((who) => whoKey(who) === one.key)"
          @change="setCheck({ ...check, any: toggled(check.any, one.who, (who) => whoKey(who) === one.key) })"
        />
        {{ one.name }}
      </label>
    </div>
    <div v-else-if="check.is === 'record'">
      <input v-model="search" placeholder="Type to find" aria-label="Find records" />
      <div class="many" role="group" aria-label="Records">
        <label v-for="one in names" :key="one.id">
          <input type="checkbox" :checked="check.any.includes(one.id)" @change="setCheck({ ...check, any: toggled(check.any, one.id) })" />
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
.test > input,
.pair input,
.test input:not([type='checkbox']) {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 6px 8px;
  min-height: 40px;
}
@media (max-width: 420px) {
  .head {
    grid-template-columns: minmax(0, 1fr);
  }
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
