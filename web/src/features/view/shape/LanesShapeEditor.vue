<script setup lang="ts">
// By what lanes stand, and whether their entries bear a picture. What is said of single lanes is said at their heads.
import { computed } from 'vue'
import type { LanesShape, Table } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'

const props = defineProps<{
  shape: LanesShape
  table: Table
  /** The fields by which lanes can stand. */ by: readonly number[]
  /** It is of a shared page. */ outside?: boolean
}>()
const emit = defineEmits<{ change: [shape: LanesShape] }>()
const fields = computed(() => named(props.by.flatMap((id) => props.table.fields.filter((field) => field.id === id))))
const pictures = computed(() => named(props.table.fields.filter((field) => field.shows.type === 'files')))
</script>

<template>
  <p class="says">
    one lane for each
    <PickOne
      said
      :model-value="shape.by"
      aria-label="Lanes by"
      :items="fields"
      @update:model-value="emit('change', { by: Number($event), picture: shape.picture ?? null })"
    />
    <template v-if="pictures.length && !outside">
      with
      <PickOne
        said
        :model-value="shape.picture ?? null"
        aria-label="Pictures in entries"
        data-test="lane-picture"
        :items="[{ value: null, title: 'no pictures' }, ...pictures]"
        @update:model-value="emit('change', { ...shape, picture: $event === null ? null : Number($event) })"
      />
    </template>
  </p>
</template>

<style scoped>
.says {
  font: 16px/1.6 var(--serif);
  margin: 0;
}
</style>
