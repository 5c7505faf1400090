<script setup lang="ts">
// What fields become, a line for each: of many records at once, or by an automation.
import { computed, defineAsyncComponent } from 'vue'
import type { Field, Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import BeginsWith from '@/features/form/BeginsWith.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import { begun, PERSON, waysOf, writableOf, type Alteration } from './altering'

const FormulaLine = defineAsyncComponent(() => import('@/features/formula/FormulaLine.vue'))

const props = defineProps<{
  table: Table
  /** Of an automation: the table of the record from which paths go; nothing: somebody changes them by hand. */
  own?: Table
  /** Of a record that is added. */
  adds?: boolean
}>()
const lines = defineModel<Alteration[]>({ required: true })
const { tracker } = useTracker()

const writable = computed(() => writableOf(props.table))
const readable = computed(() => props.table.fields.filter((one) => one.kind.type !== 'files' && one.kind.type !== 'button'))
const fieldOf = (id: number | undefined): Field | undefined => writable.value.find((one) => one.id === id)
const pick = (line: Alteration, field: number) => Object.assign(line, begun(field))
const way = (line: Alteration, to: Alteration['way']) => Object.assign(line, { way: to, value: null })

/** Who does what is put into a checklist: nobody yet, whoever stands in a field of persons, or somebody. */
const doers = computed(() => {
  const found = tracker.value ? paths(tracker.value, props.table) : []
  const persons = found.filter((one) => ['person', 'people'].includes(one.field.shows.type))
  const people = (tracker.value?.people ?? []).filter((one) => !one.left)
  return [
    { value: '', title: 'nobody yet' },
    ...persons.map((one) => ({ value: one.key, title: `its ${one.name}` })),
    ...people.map((one) => ({ value: `${PERSON}${one.id}`, title: one.name })),
  ]
})

/** What stands along links from the record, and the record itself where the field links to it. */
function ends(field: number | undefined) {
  const own = props.own ?? props.table
  const kind = fieldOf(field)?.kind
  const itself = kind?.type === 'link' && kind.to === own.id ? [{ value: '', title: `this ${own.one}` }] : []
  const found = tracker.value ? paths(tracker.value, own) : []
  return [...itself, ...found.map((one) => ({ value: one.key, title: one.name }))]
}
</script>

<template>
  <div class="alters">
    <div v-for="(line, n) in lines" :key="n" class="line" :data-line="n">
      <PickOne
        said
        :model-value="line.field"
        hint="a field"
        aria-label="Which field"
        data-test="bulk-field"
        :items="named(writable)"
        @update:model-value="pick(line, Number($event))"
      />
      <PickOne
        v-if="fieldOf(line.field)"
        said
        :model-value="line.way"
        aria-label="What is done to it"
        data-test="bulk-way"
        :items="waysOf(fieldOf(line.field), adds, !!own)"
        @update:model-value="way(line, $event as Alteration['way'])"
      />
      <template v-if="fieldOf(line.field)">
        <BeginsWith
          v-if="line.way === 'set' || line.way === 'add' || line.way === 'take'"
          :key="`${line.field} ${line.way}`"
          v-model="line.value"
          says=""
          :field="fieldOf(line.field)!"
          :table="table.id"
        />
        <span v-else-if="line.way === 'replace'" class="with">
          <input v-model="line.find" class="boxed" aria-label="The text that is replaced" data-test="bulk-find" /> by
          <input v-model="line.with" class="boxed" aria-label="What stands there then" data-test="bulk-with" />
        </span>
        <span v-else-if="line.way === 'item'" class="with">
          <input v-model="line.item" class="boxed" aria-label="What is to be done, too" data-test="bulk-item" /> by
          <PickOne v-model="line.who" said aria-label="By whom" data-test="bulk-who" :items="doers" />
          within
          <input
            v-model="line.within"
            class="boxed short"
            inputmode="numeric"
            aria-label="Within how many days"
            placeholder="any"
            data-test="bulk-within"
          />
          days
        </span>
        <FormulaLine v-else-if="line.way === 'formula'" v-model="line.formula" :table="adds ? (own ?? table) : table" />
        <label v-else-if="line.way === 'days'" class="with"
          ><input v-model="line.days" class="boxed short" inputmode="numeric" data-test="bulk-days" aria-label="How many days" /> days; with
          a minus, back</label
        >
        <label v-else-if="line.way === 'raise'" class="with"
          ><input v-model="line.share" class="boxed short" inputmode="decimal" data-test="bulk-share" aria-label="By how much" /> %; with a
          minus, down</label
        >
        <PickOne
          v-else-if="line.way === 'from'"
          said
          :model-value="line.from"
          hint="another field"
          aria-label="From which field"
          data-test="bulk-from"
          :items="named(readable.filter((one) => one.id !== line.field))"
          @update:model-value="line.from = Number($event)"
        />
        <PickOne
          v-else-if="line.way === 'along'"
          said
          :model-value="line.along"
          hint="what it links to"
          aria-label="What it becomes, along links"
          data-test="bulk-along"
          :items="ends(line.field)"
          @update:model-value="line.along = $event"
        />
      </template>
      <button v-if="lines.length > 1" type="button" class="link" @click="lines.splice(n, 1)">not this</button>
    </div>
    <p><button type="button" class="link" data-test="bulk-another" @click="lines.push(begun())">+ another field</button></p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: baseline;
  padding: 3px 0;
  font: 16px/1.5 var(--serif);
}
.with {
  display: inline-flex;
  gap: var(--gap-2);
  align-items: baseline;
}
.with input {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.short {
  width: 70px;
}
</style>
