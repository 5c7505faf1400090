<script setup lang="ts">
// Why somebody can, or can't, do something with a record: a question of a few phrases, and the real decision as its answer.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { AccessWhy, RecordName } from '@/api/types'
import { useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'
import { personKey, visitorKey, whomOf } from './whom'

type Right = 'look' | 'change' | 'remove'

const props = defineProps<{
  /** The record that it is about; none: it is chosen here. */
  about?: { table: number; record: number; name: string }
  /** About whom one asks first: somebody of the team, or whoever comes to a page. */
  person?: number
  page?: number
  /** The table of which one asks first. */
  table?: number
}>()

const { tracker } = useTracker()
const all = computed(() => whomOf(tracker.value))
/** Of a page, those who come to it alone. */
const people = computed(() => all.value.items.filter((one) => !props.page || one.value?.startsWith(visitorKey(props.page))))
const first = computed(() => (props.page ? people.value[0]?.value : props.person ? personKey(props.person) : undefined))
const tables = computed(() => (tracker.value?.tables ?? []).map((one) => ({ value: one.id as number | undefined, title: one.one })))
const RIGHTS: { value: Right; title: string }[] = [
  { value: 'look', title: 'see' },
  { value: 'change', title: 'change' },
  { value: 'remove', title: 'remove' },
]

const whom = ref(first.value)
const right = ref<Right>('look')
const table = ref<number | undefined>(props.about?.table ?? props.table ?? tables.value[0]?.value)
const record = ref<number | undefined>(props.about?.record)
const field = ref<number>()
const fields = computed(() => [
  { value: undefined as number | undefined, title: 'it' },
  ...(tracker.value?.tables.find((one) => one.id === table.value)?.fields ?? []).map((one) => ({
    value: one.id as number | undefined,
    title: `“${one.name}” of it`,
  })),
])

const names = ref<RecordName[]>([])
const typed = ref('')
watch(
  [table, typed],
  async ([at, text]) => {
    if (props.about || !at || !tracker.value) return
    const path = { tracker: tracker.value.id, table: at }
    names.value = await told(
      api.GET('/api/trackers/{tracker}/tables/{table}/names', { params: { path, query: { search: text ?? '' } } }),
    ).catch(() => [])
  },
  { immediate: true },
)
function setTable(next: number | undefined) {
  table.value = next
  record.value = undefined
  field.value = undefined
}

const doing = useDoing()
const answer = ref<AccessWhy>()
watch(
  [whom, right, table, record, field],
  async () => {
    answer.value = undefined
    const asked = all.value.of(whom.value)
    if (!tracker.value || !asked || !table.value || !record.value) return
    const body = { ...asked, right: right.value, table: table.value, record: record.value, field: field.value }
    const params = { path: { tracker: tracker.value.id } }
    answer.value = await doing.newest(() => told(api.POST('/api/trackers/{tracker}/access/why', { params, body })))
  },
  { immediate: true },
)
const sign = (holds: boolean) => (holds ? 'yes' : 'no')
</script>

<template>
  <section class="why" aria-label="Why somebody can or can’t" data-test="access-why">
    <div class="question">
      Why can, or can’t,
      <PickOne v-model="whom" said aria-label="Who" data-test="why-person" :items="people" />
      <PickOne v-model="right" said aria-label="Do what" data-test="why-right" :items="RIGHTS" />
      <template v-if="about">
        <PickOne v-model="field" said aria-label="The record or a field of it" data-test="why-field" :items="fields" />?
      </template>
      <template v-else>
        the
        <PickOne
          :model-value="table"
          said
          aria-label="Of which table"
          data-test="why-table"
          :items="tables"
          @update:model-value="setTable"
        />
        <v-autocomplete
          v-model="record"
          v-model:search="typed"
          class="record"
          :items="names"
          item-value="id"
          item-title="name"
          no-filter
          placeholder="type to find one"
          no-data-text="Nothing is called like that."
          aria-label="Which record"
          data-test="why-record"
        />
        <PickOne v-if="record" v-model="field" said aria-label="The record or a field of it" data-test="why-field" :items="fields" />?
      </template>
    </div>
    <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
    <div v-if="answer" role="status" data-test="why-answer">
      <p class="says"
        ><b>{{ answer.says }}</b></p
      >
      <div v-for="part in answer.parts" :key="part.says" class="part">
        <p class="head"
          >{{ part.says }}<span class="mark" :class="{ no: !part.holds }">{{ sign(part.holds) }}</span></p
        >
        <ul v-if="part.roles.length">
          <li v-for="role in part.roles" :key="role.number">
            <p
              ><b>{{ role.name }}</b> {{ role.says }}<span class="mark" :class="{ no: !role.holds }">{{ sign(role.holds) }}</span></p
            >
            <ul v-if="role.steps.length" class="steps">
              <li v-for="(step, n) in role.steps" :key="n" :class="{ fails: !step.holds }">
                <span class="met">{{ step.met }}</span>
                <span class="mark" :class="{ no: !step.holds }">{{ sign(step.holds) }}</span>
              </li>
            </ul>
          </li>
        </ul>
      </div>
      <p v-for="mend in answer.mends" :key="mend" class="mend">{{ mend }}</p>
    </div>
  </section>
</template>

<style scoped>
.why {
  font: 15px/1.5 var(--serif);
}
.question {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  color: var(--quiet);
}
.record {
  flex: 0 1 260px;
  min-width: 200px;
}
.record :deep(input) {
  min-height: 0;
  border: 0;
  outline: 0;
}
.says {
  margin: 10px 0 6px;
  font-size: 17px;
}
p {
  margin: 0;
}
.part {
  padding-left: var(--gap-3);
  border-left: 1px solid var(--line-strong);
  margin-bottom: var(--gap-2);
}
.head {
  color: var(--quiet);
}
ul {
  margin: 0;
  padding-left: var(--gap-3);
  list-style: none;
}
.steps {
  border-left: 1px solid var(--line);
}
.met {
  font: 13.5px/1.5 var(--sans);
}
.fails .met {
  color: var(--copper);
}
.mark {
  margin-left: 8px;
  padding: 0 6px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  font: 12px/1.5 var(--sans);
  color: var(--moss);
}
.mark.no {
  color: var(--fault);
}
.mend {
  color: var(--ink);
  margin-top: 4px;
}
</style>
