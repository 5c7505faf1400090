<script setup lang="ts">
// What a table says of its records for everybody's rounds: whose they are, by when, what means done, how urgent, as a sentence.
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Rounds, Table, Tracker } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import SentenceLine from '@/features/view/SentenceLine.vue'
import { dayFields } from '@/features/automation/occasions'
import { begunRule, choiceFields, finishes, finishKey, whose } from './ruling'

const props = defineProps<{ tracker: Tracker; table: Table }>()
const at = computed(() => ({ tracker: props.tracker.id, table: props.table.id }))
const edits = useEdits()
const { trouble, attempt } = useDoing()
const rule = useAsked(
  () => ['rounds rule', at.value.tracker, at.value.table],
  () => told(api.GET('/api/trackers/{tracker}/tables/{table}/rounds', { params: { path: at.value } })),
  (heard) => heard.structure,
)
const rounds = computed(() => rule.told.value?.rounds ?? undefined)
const ways = computed(() => finishes(props.table))
const options = computed(() => {
  const done = rounds.value?.done
  if (!done || !('options' in done)) return []
  const field = props.table.fields.find((one) => one.id === done.options.field)
  return field && 'options' in field.kind ? field.kind.options : []
})
const chosen = computed(() => (rounds.value && 'options' in rounds.value.done ? rounds.value.done.options.any : []))
const begins = computed(() => begunRule(props.tracker, props.table))

async function keep(next: Rounds | null) {
  await attempt(async () => {
    const path = at.value
    edits.remember(
      path.tracker,
      await told(api.PUT('/api/trackers/{tracker}/tables/{table}/rounds', { params: { path }, body: { rounds: next } })),
    )
  })
  await rule.again()
}
const change = (part: Partial<Rounds>) => rounds.value && keep({ ...rounds.value, ...part })
function setDone(key: string) {
  const found = ways.value.find((one) => one.value === key)
  if (found) void change({ done: found.finish })
}
function setOptions(any: number[]) {
  const done = rounds.value?.done
  if (done && 'options' in done && any.length) void change({ done: { options: { ...done.options, any } } })
}
const maybe = (fields: { id: number; name: string }[], none: string) => [{ value: null as number | null, title: none }, ...named(fields)]
</script>

<template>
  <section v-if="rule.told.value" aria-label="Rounds" data-test="rounds-rule">
    <h2>Whose they are</h2>
    <SentenceLine v-if="rounds" :phrases="rule.told.value.says">
      <template #editor="{ at: place, close }">
        <PickOne
          v-if="place === '/who'"
          :model-value="rounds.who.join('.')"
          aria-label="Whose it is"
          data-test="rounds-who"
          :items="whose(tracker, table)"
          @update:model-value="(close(), change({ who: $event.split('.').map(Number) }))"
        />
        <PickOne
          v-else-if="place === '/due'"
          :model-value="rounds.due ?? null"
          aria-label="By when"
          data-test="rounds-due"
          :items="maybe(dayFields(table), 'no day')"
          @update:model-value="(close(), change({ due: $event }))"
        />
        <template v-else-if="place === '/done'">
          <PickOne
            :model-value="finishKey(rounds.done)"
            aria-label="What means done"
            data-test="rounds-done"
            :items="ways"
            @update:model-value="setDone($event)"
          />
          <p v-if="options.length" class="label" aria-hidden="true">any of these; pressing puts in the first</p>
          <v-autocomplete
            v-if="options.length"
            :model-value="chosen"
            multiple
            chips
            aria-label="any of these; pressing puts in the first"
            :items="options"
            item-value="id"
            item-title="name"
            data-test="rounds-options"
            @update:model-value="setOptions($event)"
          />
        </template>
        <PickOne
          v-else-if="place === '/urgency'"
          :model-value="rounds.urgency ?? null"
          aria-label="How urgent"
          :items="maybe(choiceFields(table), 'all alike')"
          @update:model-value="(close(), change({ urgency: $event }))"
        />
        <v-autocomplete
          v-else
          :model-value="rounds.tells"
          multiple
          chips
          hint="At most three, told beside the name"
          persistent-hint
          aria-label="What is told of it"
          :items="table.fields.filter((one) => one.kind.type !== 'button' && one.kind.type !== 'files')"
          item-value="id"
          item-title="name"
          @update:model-value="change({ tells: $event })"
        />
      </template>
    </SentenceLine>
    <p v-else class="quiet">They stand in nobody’s rounds.</p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="rounds"
      ><button type="button" class="link" data-test="rounds-none" @click="keep(null)">take them out of everybody’s rounds</button></p
    >
    <p v-else-if="begins"
      ><button type="button" class="link" data-begin="rounds" @click="keep(begins)">put them on somebody’s rounds</button></p
    >
    <p v-else class="quiet"
      >A field of persons says whose they are, and a choice, a yes or a day that they are done; one of these is missing.</p
    >
  </section>
</template>

<style scoped>
.label {
  margin: var(--gap-3) 0 3px;
  color: var(--quiet);
  font-size: 12.5px;
}
</style>
