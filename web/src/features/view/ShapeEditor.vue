<script setup lang="ts">
// The shape of a view: each with what one sees in it, and of the chosen one what only it has. What a table lacks for a shape is
// said, and offered to be made.
import { computed } from 'vue'
import type { Shape, ShapeOffer, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import ShapeSketch from './ShapeSketch.vue'

const props = defineProps<{ table: Table; shape: Shape; offers: ShapeOffer[] }>()
const emit = defineEmits<{ change: [shape: Shape]; make: [offer: ShapeOffer] }>()

const { vocabulary } = useVocabulary()
const offer = computed(() => props.offers.find((one) => one.name === props.shape.as))
const fields = (ids: readonly number[]) => named(ids.flatMap((id) => props.table.fields.filter((field) => field.id === id)))
const NONE = { value: null, title: 'no pictures' }

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
.says {
  font: 16px/1.6 var(--serif);
}
</style>
