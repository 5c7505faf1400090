<script setup lang="ts">
// Parts of a whole: one length for all, divided; beneath it each part with its figure and its share, which opens its records.
import { computed } from 'vue'
import type { Crossed } from '@/api/types'
import { readsOf } from '@/features/view/crosstab/crossing'
import { partsOf } from './board'
import { hueOf } from './chart'

const props = defineProps<{ crossed: Crossed; byFigure: boolean }>()
const emit = defineEmits<{ cell: [row: number, column: number] }>()
const parts = computed(() => partsOf(props.crossed))
const all = computed(() => props.crossed.cells[0]?.[0])
const colour = (hue: string | null | undefined, n: number) => `var(--${hueOf(hue, n)})`
</script>

<template>
  <div>
    <div class="whole" aria-hidden="true">
      <span
        v-for="(part, n) in parts"
        :key="part.row"
        :style="{ width: `${part.share * 100}%`, background: colour(part.head.hue, n) }"
        :title="part.head.text"
      />
    </div>
    <table class="parts">
      <tbody>
        <tr v-for="(part, n) in parts" :key="part.row">
          <th scope="row"
            ><span class="key" :style="{ background: colour(part.head.hue, n) }" aria-hidden="true" />{{
              part.head.text || 'nothing said'
            }}</th
          >
          <td
            ><button type="button" class="figure" @click="emit('cell', part.row, 0)">{{ readsOf(part.cell, byFigure).lead }}</button></td
          >
          <td class="quiet">{{ Math.round(part.share * 100) }} %</td>
        </tr>
      </tbody>
      <tfoot v-if="all">
        <tr>
          <th scope="row">All</th>
          <td
            ><button type="button" class="figure" @click="emit('cell', 0, 0)">{{ readsOf(all, byFigure).lead }}</button></td
          >
          <td />
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped src="./figures.css"></style>
<style scoped>
.whole {
  display: flex;
  gap: 2px;
  height: 18px;
  margin: var(--gap-2) 0;
}
.whole span {
  min-width: 2px;
}
.key {
  display: inline-block;
  width: 3px;
  height: 14px;
  margin-right: 8px;
  vertical-align: -2px;
}
</style>
