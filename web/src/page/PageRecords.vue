<script setup lang="ts">
// Records that a shared page shows, in the shape that it gives them: in order and narrowed for oneself alone.
import { computed, reactive, ref, useId, watch } from 'vue'
import type { PageRow, PageRows as Told, PageTable } from '@/api/types'
import { usePage } from './asking'
import { conditionOf, nothing, orderNow, ordersOf } from './narrowing'
import PageCalendar from './PageCalendar.vue'
import PageCards from './PageCards.vue'
import PageCross from './PageCross.vue'
import PageLanes from './PageLanes.vue'
import PageRows from './PageRows.vue'
import PageSheet from './PageSheet.vue'

const props = defineProps<{ part: PageTable; looks: number }>()

/** Of rows so many at once, of a lane so many. */
const AT_ONCE = { rows: 50, lanes: 12, cards: 48, calendar: 0, 'cross-tab': 0 }
/** Most that the server tells of them. */
const MOST = { rows: 1000, lanes: 200, cards: 1000, calendar: 0, 'cross-tab': 0 }
const page = usePage()
const id = useId()
const told = ref<Told>()
const trouble = ref('')
const said = ref('')
const own = reactive(nothing())
const shape = computed(() => props.part.shape.as)
const count = ref(AT_ONCE[shape.value])
const at = computed(() => `/parts/${props.part.number}`)
/** Days and cells have an order of their own. */
const orders = computed(() => (AT_ONCE[shape.value] ? ordersOf(props.part.columns) : []))
const choices = computed(() => props.part.columns.filter((column) => column.options?.length))
const finds = computed(() => props.part.columns.some((column) => column.text))
const isNarrowed = computed(() => Object.keys(own.choices).length > 0 || !!own.words.trim())
const condition = computed(() => conditionOf(props.part.columns, own))

// A newer question drops the older's answer.
let asked = 0
async function read() {
  const mine = ++asked
  const answer = await page.post<Told>(`${at.value}/rows`, {
    condition: condition.value,
    sorts: own.order ? [own.order] : [],
    start: 0,
    count: count.value,
  })
  if (mine !== asked) return
  if (answer.ok) told.value = answer.body
  trouble.value = answer.ok ? '' : answer.says
}
watch([own, count, () => props.looks], () => void read(), { immediate: true })

function put(value: string) {
  own.order = orders.value.find((order) => order.value === value)?.order
}
function choose(field: number, option: string) {
  if (option) own.choices[field] = Number(option)
  else delete own.choices[field]
}

const open = ref<PageRow | 'new'>()
/** Counts up whenever something was kept here. */
const kept = ref(0)
function done(says: string) {
  open.value = undefined
  said.value = says
  kept.value++
  void read()
}
</script>

<template>
  <section :aria-labelledby="part.title ? id : undefined" :data-test="`part-${part.number}`">
    <h2 v-if="part.title" :id="id">{{ part.title }}</h2>
    <p v-if="told" class="sentence">
      <b>{{ told.matching }}</b><template v-if="isNarrowed"> of {{ told.total }}</template>
      {{ told.matching === 1 && !isNarrowed ? part.one : part.many
      }}<template v-if="orders.length"
        >,
        <select
          class="phrase"
          aria-label="In which order"
          :value="orderNow(own.order, part.sorts)"
          @change="put(($event.target as HTMLSelectElement).value)"
        >
          <option v-if="!orderNow(own.order, part.sorts)" value="">as they came</option>
          <option v-for="order in orders" :key="order.value" :value="order.value">{{ order.words }}</option>
        </select></template
      ><template v-for="column in choices" :key="column.field"
        >,
        <select
          class="phrase"
          :aria-label="`Which ${column.name}`"
          :value="String(own.choices[column.field] ?? '')"
          @change="choose(column.field, ($event.target as HTMLSelectElement).value)"
        >
          <option value="">every {{ column.name }}</option>
          <option v-for="option in column.options" :key="option.id" :value="String(option.id)">{{ column.name }}: {{ option.name }}</option>
        </select></template
      >.
      <input v-if="finds" v-model="own.words" class="find" type="search" placeholder="find words" aria-label="Find words" />
      <span class="quiet">Rearranging them changes your own screen only.</span>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <PageCalendar
      v-if="part.shape.as === 'calendar'"
      :part="part"
      :shape="part.shape"
      :condition="condition"
      :looks="looks + kept"
      @open="open = $event"
    />
    <PageCross v-else-if="part.shape.as === 'cross-tab'" :part="part" :condition="condition" :looks="looks" />
    <template v-else-if="told?.matching">
      <PageLanes v-if="part.shape.as === 'lanes'" :part="part" :told="told" @open="open = $event" />
      <PageCards v-else-if="part.shape.as === 'cards'" :part="part" :shape="part.shape" :told="told" @open="open = $event" />
      <PageRows v-else :part="part" :told="told" @open="open = $event" @again="read" />
    </template>
    <p v-else-if="told" class="none">{{
      isNarrowed ? `None of the ${told.total} fits what you ask for.` : `There are no ${part.many} here now.`
    }}</p>
    <p v-if="told?.figures.length" class="totals">
      <template v-for="(figure, n) in told.figures" :key="n"
        ><span v-if="figure"
          >{{ part.figures[n] }} <b>{{ figure }}</b></span
        ></template
      >
    </p>
    <p class="after">
      <template v-if="told && count && told.matching > told.rows.length">
        <button v-if="count < MOST[shape]" type="button" class="link" @click="count += AT_ONCE[shape]"
          >Show more: {{ told.matching - told.rows.length }} are left</button
        >
        <span v-else class="quiet">{{ told.matching - told.rows.length }} more are not shown: look for words to narrow them.</span>
      </template>
      <button v-if="part.adds" type="button" class="link" data-test="add-record" @click="open = 'new'">Add {{ part.one }}</button>
      <span role="status">{{ said }}</span>
    </p>
    <PageSheet
      v-if="open"
      :key="open === 'new' ? 0 : open.id"
      :part="part"
      :row="open === 'new' ? undefined : open"
      @done="done"
      @leave="open = undefined"
    />
  </section>
</template>

<style scoped>
section {
  min-width: 0;
}
.sentence {
  margin: 2px 0 10px;
  font: 16px/1.7 var(--serif);
  color: var(--quiet);
}
.sentence b {
  color: var(--ink);
}
.phrase {
  max-width: 100%;
  min-height: 26px;
  border: 0;
  background: none;
  color: var(--moss);
  font: inherit;
  text-decoration: underline dotted;
  text-underline-offset: 5px;
  cursor: pointer;
  field-sizing: content;
  appearance: none;
  padding: 0;
}
.phrase option {
  font: 14px var(--sans);
  color: var(--ink);
  background: var(--sheet);
}
.find {
  width: 130px;
  min-height: 28px;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  background: none;
  color: var(--ink);
  font: 14px var(--sans);
}
.find + .quiet {
  margin-left: 8px;
}
.quiet {
  font-size: 14px;
}
.none {
  font: 17px/1.5 var(--serif);
}
.after {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 10px 0 0;
}
.after .link {
  min-height: 32px;
}
.totals {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  margin: 10px 0 0;
  font-size: 14px;
  color: var(--quiet);
}
.totals b {
  color: var(--ink);
  font-variant-numeric: tabular-nums;
}
@media (max-width: 760px) {
  .phrase,
  .find,
  .after .link {
    min-height: 44px;
  }
}
</style>
