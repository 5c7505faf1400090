<script setup lang="ts">
// How a block is set: its size, weight, side, colour, lines above and below, and whether it stays on one page.
import type { BlockSet } from '@/api/types'
import HuePick from '@/features/menu/HuePick.vue'
import PickOne from '@/features/menu/PickOne.vue'

const props = defineProps<{ set: BlockSet }>()
const emit = defineEmits<{ change: [set: BlockSet] }>()
const put = (part: Partial<BlockSet>) => emit('change', { ...props.set, ...part })
const SIZES = [
  { value: 'smaller' as const, title: 'small' },
  { value: null, title: 'as it comes' },
  { value: 'larger' as const, title: 'large' },
]
const SIDES = [
  { value: 'left' as const, title: 'at the left' },
  { value: 'middle' as const, title: 'in the middle' },
  { value: 'right' as const, title: 'at the right' },
]
const CHECKS = [
  { part: 'bold' as const, says: 'bold' },
  { part: 'above' as const, says: 'a line above' },
  { part: 'below' as const, says: 'a line below' },
  { part: 'together' as const, says: 'kept on one page, where it fits' },
]
</script>

<template>
  <div class="set">
    <p>
      <PickOne
        :model-value="set.size ?? null"
        :items="SIZES"
        aria-label="Size"
        data-test="set-size"
        @update:model-value="put({ size: $event })"
      />
      <PickOne
        :model-value="set.align"
        :items="SIDES"
        aria-label="Side"
        data-test="set-align"
        @update:model-value="put({ align: $event })"
      />
    </p>
    <label v-for="one in CHECKS" :key="one.part"
      ><input
        type="checkbox"
        :checked="set[one.part]"
        :data-test="`set-${one.part}`"
        @change="put({ [one.part]: ($event.target as HTMLInputElement).checked })"
      />
      {{ one.says }}</label
    >
    <HuePick
      :model-value="set.hue ?? null"
      :as="(hue) => ({ ink: { of: hue } })"
      of="ink"
      says="Letters in"
      @update:model-value="put({ hue: $event })"
    />
  </div>
</template>

<style scoped>
.set {
  display: grid;
  gap: 6px;
  width: min(340px, 86vw);
}
p {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--gap-2);
  margin: 0;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
</style>
