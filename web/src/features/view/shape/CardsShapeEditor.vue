<script setup lang="ts">
// What stands on plates: which pictures, how, how large; and which numbers are drawn, one as a length and one as strokes.
import { computed } from 'vue'
import type { CardsShape, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'

const props = defineProps<{ shape: CardsShape; table: Table; /** The fields that hold pictures. */ by: readonly number[] }>()
const emit = defineEmits<{ change: [shape: CardsShape] }>()
const { vocabulary } = useVocabulary()
const put = (part: Partial<CardsShape>) => emit('change', { ...props.shape, ...part })

const pictures = computed(() => named(props.by.flatMap((id) => props.table.fields.filter((field) => field.id === id))))
const NUMBERS = new Set(['number', 'money', 'percent', 'rating', 'duration'])
const numbers = computed(() => [
  { value: null, title: 'nothing' },
  ...named(props.table.fields.filter((field) => NUMBERS.has(field.shows.type))),
])
const field = (id: unknown) => (id === null ? null : Number(id))
</script>

<template>
  <div class="says">
    <p>
      <PickOne
        said
        :model-value="shape.size ?? 'middle'"
        aria-label="Size"
        :items="worded(vocabulary?.card_sizes)"
        @update:model-value="put({ size: $event })"
      />
      cards with
      <PickOne
        said
        :model-value="shape.picture ?? null"
        aria-label="Pictures"
        :items="[...pictures, { value: null, title: 'no pictures' }]"
        @update:model-value="put({ picture: field($event) })"
      />
      <template v-if="shape.picture">
        that
        <PickOne
          said
          :model-value="shape.fit ?? 'cropped'"
          aria-label="How they stand"
          data-test="card-fit"
          :items="worded(vocabulary?.fits)"
          @update:model-value="put({ fit: $event })"
        />
      </template>
    </p>
    <p v-if="numbers.length > 1">
      beneath, as a length,
      <PickOne
        said
        :model-value="shape.length ?? null"
        aria-label="Drawn as a length"
        data-test="card-length"
        :items="numbers"
        @update:model-value="put({ length: field($event) })"
      />
      and, as strokes,
      <PickOne
        said
        :model-value="shape.strokes ?? null"
        aria-label="Drawn as strokes"
        data-test="card-strokes"
        :items="numbers"
        @update:model-value="put({ strokes: field($event) })"
      />
    </p>
  </div>
</template>

<style scoped>
.says {
  font: 16px/1.6 var(--serif);
}
p {
  margin: 0;
}
</style>
