<script setup lang="ts">
// What rows look like: how high they are, what lies between them, and which fields stay. The rows beneath show it at once.
import { computed } from 'vue'
import type { LineWeight, RowsShape } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import HuePick from '@/features/menu/HuePick.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { worded } from '@/features/menu/pick'

const props = defineProps<{ shape: RowsShape; /** How many fields are shown. */ fields?: number }>()
const emit = defineEmits<{ change: [shape: RowsShape] }>()
const { vocabulary } = useVocabulary()
const put = (part: Partial<RowsShape>) => emit('change', { ...props.shape, ...part })

/** Most fields that can be kept in place. */
const KEPT = 6
const kept = computed(() => {
  const most = Math.min(KEPT, Math.max(0, (props.fields ?? KEPT) - 1))
  const some = Array.from({ length: most }, (_, n) => ({ value: n + 1, title: n ? `the first ${n + 1} fields` : 'the first field' }))
  return [{ value: null, title: 'what names a record' }, { value: 0, title: 'nothing' }, ...some]
})
</script>

<template>
  <div class="says">
    <p>
      rows of
      <PickOne
        said
        :model-value="shape.height ?? 'one'"
        aria-label="Height"
        :items="worded(vocabulary?.heights)"
        @update:model-value="put({ height: $event })"
      />
      with
      <PickOne
        said
        :model-value="shape.lines ?? 'thin'"
        aria-label="Lines between rows"
        data-test="row-lines"
        :items="worded(vocabulary?.lines)"
        @update:model-value="put({ lines: $event as LineWeight })"
      />
      lines, keeping
      <PickOne
        said
        :model-value="shape.keeps ?? null"
        aria-label="Fields that stay in place"
        data-test="row-keeps"
        :items="kept"
        @update:model-value="put({ keeps: $event })"
      />
      in place
    </p>
    <p v-if="shape.lines !== 'none'" class="hued"
      ><span>lines in</span
      ><HuePick
        :model-value="shape.line_hue"
        :as="(hue) => ({ edge: hue })"
        of="line"
        says="lines in"
        @update:model-value="put({ line_hue: $event })"
    /></p>
    <p class="hued"
      ><span>bands in</span
      ><HuePick
        :model-value="shape.bands"
        :as="(hue) => ({ fill: hue })"
        of="band"
        says="bands in"
        @update:model-value="put({ bands: $event })"
    /></p>
  </div>
</template>

<style scoped>
.says {
  font: 16px/1.6 var(--serif);
}
p {
  margin: 0;
}
.hued {
  display: flex;
  gap: var(--gap-2);
  align-items: baseline;
}
.hued > span:first-child {
  flex: none;
}
</style>
