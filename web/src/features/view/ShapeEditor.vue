<script setup lang="ts">
// The shape of a view: each with what one sees in it, and of the chosen one what only it has. What a table lacks for a shape is
// said, and offered to be made.
import { computed } from 'vue'
import type { AlmanacShape, Shape, ShapeOffer, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import MarkHead from './calendar/MarkHead.vue'
import ShapeSketch from './ShapeSketch.vue'

const props = defineProps<{ table: Table; shape: Shape; offers: ShapeOffer[]; /** The first figure of the view. */ figure?: string }>()
const emit = defineEmits<{ change: [shape: Shape]; make: [offer: ShapeOffer] }>()

const { vocabulary } = useVocabulary()
const offer = computed(() => props.offers.find((one) => one.name === props.shape.as))
const fields = (ids: readonly number[]) => named(ids.flatMap((id) => props.table.fields.filter((field) => field.id === id)))
const NONE = { value: null, title: 'no pictures' }

/** Most dates of a calendar. */
const DATES = 4
const dates = computed<AlmanacShape['dates']>(() => (props.shape.as === 'calendar' ? props.shape.dates : []))
const capOf = computed(() => props.figure || props.table.many)
function setDates(next: AlmanacShape['dates']) {
  if (props.shape.as === 'calendar') emit('change', { ...props.shape, dates: next })
}
const setDate = (place: number, part: Partial<AlmanacShape['dates'][number]>) =>
  setDates(dates.value.map((date, n) => (n === place ? { ...date, ...part } : date)))
function setCap(event: Event) {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  if (props.shape.as === 'calendar' && (!text || /^\d+(\.\d+)?$/.test(text))) emit('change', { ...props.shape, cap: text || null })
}

function choose(one: ShapeOffer) {
  if (one.name !== props.shape.as && one.begins) emit('change', one.begins)
}
</script>

<template>
  <div class="shapes">
    <div class="offers" role="radiogroup" aria-label="Shape">
      <button
        v-for="one in offers"
        :key="one.name"
        type="button"
        role="radio"
        :aria-checked="one.name === shape.as"
        :disabled="!one.begins"
        :data-shape="one.name"
        @click="choose(one)"
      >
        <ShapeSketch :name="one.name" />
        <b>{{ one.name }}</b>
        <span class="quiet">{{ one.missing || one.says }}</span>
      </button>
    </div>
    <template v-for="one in offers" :key="`make ${one.name}`">
      <p v-if="one.makes"
        ><button type="button" class="link" :data-test="`make-for-${one.name}`" @click="emit('make', one)"
          >Make such a field for {{ one.name }}</button
        ></p
      >
    </template>
    <p v-if="shape.as === 'rows'" class="says">
      rows of
      <PickOne
        said
        :model-value="shape.height ?? 'one'"
        aria-label="Height"
        :items="worded(vocabulary?.heights)"
        @update:model-value="emit('change', { ...shape, height: $event })"
      />
    </p>
    <p v-else-if="shape.as === 'lanes'" class="says">
      one lane for each
      <PickOne
        said
        :model-value="shape.by"
        aria-label="Lanes by"
        :items="fields(offer?.by ?? [shape.by])"
        @update:model-value="emit('change', { as: 'lanes', by: Number($event), away: [], limits: [] })"
      />
    </p>
    <div v-else-if="shape.as === 'calendar'" class="says">
      <p v-for="(date, place) in shape.dates" :key="place">
        <MarkHead :date="place" />
        <PickOne
          said
          :model-value="date.start"
          aria-label="From"
          :items="fields(offer?.by ?? [date.start])"
          @update:model-value="setDate(place, { start: Number($event) })"
        />
        to
        <PickOne
          said
          :model-value="date.end ?? null"
          aria-label="To"
          :items="[{ value: null, title: 'the same day' }, ...fields((offer?.by ?? []).filter((id) => id !== date.start))]"
          @update:model-value="setDate(place, { end: $event === null ? null : Number($event) })"
        />
        <button
          v-if="shape.dates.length > 1"
          type="button"
          aria-label="Take it out"
          @click="setDates(shape.dates.filter((_, n) => n !== place))"
          >×</button
        >
      </p>
      <PickOne
        v-if="shape.dates.length < DATES"
        aria-label="And by"
        data-test="add-date"
        :items="fields((offer?.by ?? []).filter((id) => !dates.some((one) => one.start === id)))"
        hint="and by …"
        @update:model-value="setDates([...dates, { start: Number($event), end: null }])"
      />
      <p
        >A week should hold at most
        <input :value="shape.cap ?? ''" inputmode="decimal" size="5" aria-label="Most of a week" data-test="cap" @change="setCap" />
        {{ capOf }}.</p
      >
    </div>
    <p v-else-if="shape.as === 'cards'" class="says">
      <PickOne
        said
        :model-value="shape.size ?? 'middle'"
        aria-label="Size"
        :items="worded(vocabulary?.card_sizes)"
        @update:model-value="emit('change', { ...shape, size: $event })"
      />
      cards with
      <PickOne
        said
        :model-value="shape.picture ?? null"
        aria-label="Pictures"
        :items="[...fields(offer?.by ?? []), NONE]"
        @update:model-value="emit('change', { ...shape, picture: $event === null ? null : Number($event) })"
      />
      <template v-if="shape.picture">
        that
        <PickOne
          said
          :model-value="shape.fit ?? 'cropped'"
          aria-label="How they stand"
          :items="worded(vocabulary?.fits)"
          @update:model-value="emit('change', { ...shape, fit: $event })"
        />
      </template>
    </p>
  </div>
</template>

<style scoped>
.shapes {
  display: grid;
  gap: var(--gap-3);
  max-width: 620px;
}
.offers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(160px, 1fr));
  gap: var(--gap-3);
}
.offers button {
  display: grid;
  gap: 4px;
  align-content: start;
  text-align: left;
  padding: var(--gap-2);
  border: 0;
  border-top: 2px solid var(--line);
  background: none;
  color: inherit;
  cursor: pointer;
  font-size: 13px;
  line-height: 1.4;
}
.offers button[aria-checked='true'] {
  border-top-color: var(--moss);
  background: var(--moss-soft);
}
.offers button:disabled {
  cursor: default;
}
p {
  margin: 0;
}
.says input {
  width: 64px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  padding: 2px 6px;
}
.says button {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
.says {
  font: 16px/1.6 var(--serif);
}
</style>
