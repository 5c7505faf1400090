<script setup lang="ts">
// The shape of a view: each with what one sees in it, and of the chosen one what only it has. What a table lacks for a shape is
// said, and offered to be made.
import { computed } from 'vue'
import type { Query, Shape, ShapeOffer, Table } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'
import AlmanacShapeEditor from './shape/AlmanacShapeEditor.vue'
import CardsShapeEditor from './shape/CardsShapeEditor.vue'
import CrossShapeEditor from './shape/CrossShapeEditor.vue'
import LanesShapeEditor from './shape/LanesShapeEditor.vue'
import RowsShapeEditor from './shape/RowsShapeEditor.vue'
import ShapeSketch from './ShapeSketch.vue'
import { useSketches } from './sketching'

const props = defineProps<{
  table: Table
  shape: Shape
  offers: ShapeOffer[]
  /** The first figure of the view. */
  figure?: string
  /** Whether only what this shape has is edited, and no other offered. */
  alone?: boolean
  /** It is of a shared page. */
  outside?: boolean
  /** What the view shows, by which the shapes are sketched. */
  query?: Query
}>()
const emit = defineEmits<{ change: [shape: Shape]; make: [offer: ShapeOffer] }>()

const { tracker } = useTracker()
const { sketch } = useSketches({
  tracker: () => tracker.value?.id ?? 0,
  table: () => props.table,
  query: () => props.query ?? { fields: [] },
  offers: () => props.offers,
  on: () => !!props.query && !props.alone,
})
const offer = computed(() => props.offers.find((one) => one.name === props.shape.as))
function choose(one: ShapeOffer) {
  if (one.name !== props.shape.as && one.begins) emit('change', one.begins)
}
</script>

<template>
  <div class="shapes">
    <div v-if="!alone" class="offers" role="radiogroup" aria-label="Shape">
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
        <ShapeSketch :name="one.name" :sketch="sketch" />
        <b>{{ one.name }}</b>
        <span class="quiet">{{ one.missing || one.says }}</span>
      </button>
    </div>
    <template v-for="one in alone ? [] : offers" :key="`make ${one.name}`">
      <p v-if="one.makes"
        ><button type="button" class="link" :data-test="`make-for-${one.name}`" @click="emit('make', one)"
          >Make such a field for {{ one.name }}</button
        ></p
      >
    </template>
    <RowsShapeEditor
      v-if="shape.as === 'rows' && !outside"
      :shape="shape"
      :fields="query?.fields.length"
      @change="emit('change', { ...$event, as: 'rows' })"
    />
    <LanesShapeEditor
      v-else-if="shape.as === 'lanes'"
      :outside="outside"
      :shape="shape"
      :table="table"
      :by="offer?.by ?? [shape.by]"
      @change="emit('change', { ...$event, as: 'lanes' })"
    />
    <AlmanacShapeEditor
      v-else-if="shape.as === 'calendar'"
      :outside="outside"
      :shape="shape"
      :table="table"
      :by="offer?.by ?? []"
      :figure="figure"
      @change="emit('change', { ...$event, as: 'calendar' })"
    />
    <CrossShapeEditor
      v-else-if="shape.as === 'cross-tab'"
      :outside="outside"
      :shape="shape"
      :table="table"
      :by="offer?.by ?? []"
      :figure="figure"
      @change="emit('change', { ...$event, as: 'cross-tab' })"
    />
    <CardsShapeEditor
      v-else-if="shape.as === 'cards'"
      :shape="shape"
      :table="table"
      :by="offer?.by ?? []"
      @change="emit('change', { ...$event, as: 'cards' })"
    />
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
  grid-template-columns: repeat(auto-fit, minmax(136px, 1fr));
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
</style>
