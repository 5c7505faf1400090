<script setup lang="ts">
// The settings that a kind has of its own.
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import { computed } from 'vue'
import type { Choice, FieldDef, Kind, NumberPart } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useTracker } from '@/features/tracker/tracker'
import ButtonSettings from './ButtonSettings.vue'
import OptionsEditor from './OptionsEditor.vue'
import { sampleNumber } from './fields'

const { tracker: currentTracker } = useTracker()
const { vocabulary } = useVocabulary()

const props = defineProps<{
  modelValue: Kind
  table: number
  /** The other fields of the table. */
  fields: FieldDef[]
  /** It exists already, so that a link's table stays. */
  known: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [kind: Kind] }>()
const other = defineModel<{ name: string; one: boolean }>('other')

const kind = computed(() => props.modelValue)
const put = (change: object) => emit('update:modelValue', { ...props.modelValue, ...change } as Kind)
const number = (event: Event) => Number((event.target as HTMLInputElement).value)
const text = (event: Event) => (event.target as HTMLInputElement).value
const tables = computed(() => currentTracker.value?.tables ?? [])
const choices = computed(() => props.fields.filter((f) => f.kind.type === 'choice'))
const grounds = computed<Choice[] | undefined>(() => {
  const on = kind.value.type === 'choice' ? kind.value.on : undefined
  const found = props.fields.find((f) => f.id === on)?.kind
  return found?.type === 'choice' ? found.options : undefined
})

function dependOn(on: number | null) {
  if (kind.value.type !== 'choice') return
  const found = props.fields.find((f) => f.id === on)?.kind
  const first = found?.type === 'choice' ? found.options[0]?.id : undefined
  put({ on, options: kind.value.options.map((o) => ({ ...o, under: on ? first : undefined })) })
}

const links = computed(() => props.fields.filter((f) => f.kind.type === 'link'))
const carriedFrom = computed(() => {
  const link =
    kind.value.type === 'carried' ? links.value.find((f) => f.id === (kind.value as { links: number[] }).links[0])?.kind : undefined
  return link?.type === 'link' ? tables.value.find((t) => t.id === link.to) : undefined
})

function putPart(place: number, part: NumberPart | undefined) {
  if (kind.value.type !== 'numbering') return
  const parts = [...kind.value.parts]
  if (part) parts[place] = part
  else parts.splice(place, 1)
  put({ parts })
}
const PARTS: Record<NumberPart['part'], NumberPart> = {
  fixed: { part: 'fixed', text: '-' },
  year: { part: 'year' },
  month: { part: 'month' },
  counter: { part: 'counter', digits: 4, restarts: 'never' },
}
const PART_NAMES: Record<NumberPart['part'], string> = { fixed: 'fixed text', year: 'the year', month: 'the month', counter: 'a counter' }
</script>

<template>
  <div class="settings boxes">
    <label v-if="kind.type === 'text'"
      >At most <input type="number" min="1" max="1000" :value="kind.limit" @input="put({ limit: number($event) })" /> characters</label
    >
    <template v-else-if="kind.type === 'number'">
      <label
        ><input type="number" min="0" max="9" :value="kind.decimals" aria-label="Decimals" @input="put({ decimals: number($event) })" />
        decimals</label
      >
      <label>Unit <input :value="kind.unit" class="short" @input="put({ unit: text($event) })" /></label>
    </template>
    <label v-else-if="kind.type === 'money'"
      >Currency <input :value="kind.currency" class="short" maxlength="3" @input="put({ currency: text($event).toUpperCase() })"
    /></label>
    <label v-else-if="kind.type === 'percent'"
      ><input type="number" min="0" max="9" :value="kind.decimals" aria-label="Decimals" @input="put({ decimals: number($event) })" />
      decimals</label
    >
    <label v-else-if="kind.type === 'rating'"
      >From 1 to <input type="number" min="2" max="10" :value="kind.most" aria-label="Most" @input="put({ most: number($event) })"
    /></label>
    <ButtonSettings v-else-if="kind.type === 'button'" :kind="kind" :table="table" @put="put" />
    <OptionsEditor
      v-else-if="kind.type === 'choice' || kind.type === 'choices'"
      :model-value="kind.options"
      :others="kind.type === 'choice' ? choices : []"
      :grounds="grounds"
      :on="kind.type === 'choice' ? kind.on : undefined"
      @update:model-value="put({ options: $event })"
      @update:on="dependOn"
    />
    <template v-else-if="kind.type === 'link'">
      <label>
        To records of
        <PickOne
          :model-value="kind.to || ''"
          :disabled="known"
          data-test="link-to"
          :items="named(tables)"
          hint="choose a table"
          @update:model-value="put({ to: Number($event) })"
        />
      </label>
      <label
        ><input
          type="checkbox"
          :checked="!kind.one"
          :disabled="known"
          @change="put({ one: !($event.target as HTMLInputElement).checked })"
        />
        to several at once</label
      >
      <template v-if="other && !known">
        <label>There it is called <input v-model="other.name" data-test="other-name" /></label>
        <label><input v-model="other.one" type="checkbox" /> and each there is linked to at most one here</label>
      </template>
    </template>
    <template v-else-if="kind.type === 'carried'">
      <label>
        Along
        <PickOne
          :model-value="kind.links[0] ?? ''"
          data-test="carried-link"
          :items="named(links)"
          hint="choose a link"
          @update:model-value="put({ links: [Number($event)], field: 0 })"
        />
      </label>
      <label v-if="carriedFrom">
        the field
        <PickOne
          :model-value="kind.field || ''"
          data-test="carried-field"
          :items="named(carriedFrom.fields)"
          hint="choose a field"
          @update:model-value="put({ field: Number($event) })"
        />
      </label>
      <p v-if="!links.length" class="quiet">This table has no link yet. Make one first.</p>
    </template>
    <template v-else-if="kind.type === 'numbering'">
      <div v-for="(part, place) in kind.parts" :key="place" class="part">
        <PickOne
          :model-value="part.part as string"
          :aria-label="`Part ${place + 1}`"
          :items="Object.entries(PART_NAMES).map(([value, title]) => ({ value, title }))"
          @update:model-value="putPart(place, PARTS[$event as NumberPart['part']])"
        />
        <input
          v-if="part.part === 'fixed'"
          class="short"
          :value="part.text"
          aria-label="Text"
          @input="putPart(place, { part: 'fixed', text: text($event) })"
        />
        <template v-if="part.part === 'counter'">
          of
          <input
            type="number"
            min="1"
            max="9"
            :value="part.digits"
            aria-label="Digits"
            @input="putPart(place, { ...part, digits: number($event) })"
          />
          digits, again from 1
          <PickOne
            :model-value="part.restarts"
            aria-label="Restarts"
            :items="worded(vocabulary?.restarts)"
            @update:model-value="putPart(place, { ...part, restarts: $event })"
          />
        </template>
        <button type="button" class="drop" aria-label="Take this part out" @click="putPart(place, undefined)">×</button>
      </div>
      <button type="button" class="more" @click="putPart(kind.parts.length, { part: 'fixed', text: '-' })">+ part</button>
      <p
        >The first will be <b data-test="next-number">{{ sampleNumber(kind.parts, new Date()) }}</b>.</p
      >
    </template>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  gap: 6px;
  margin: 8px 0;
}
input[type='number'] {
  width: 70px;
}
.short {
  width: 80px;
}
.part {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.drop,
.more {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  text-align: left;
}
p {
  margin: 0;
}
</style>
