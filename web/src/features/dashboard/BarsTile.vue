<script setup lang="ts">
// A bar for each value, at one scale, with its figure and its share; each opens its records.
import { computed } from 'vue'
import type { Crossed } from '@/api/types'
import { readsOf } from '@/features/view/crosstab/crossing'
import { barsOf } from './board'

const props = defineProps<{ crossed: Crossed; most: number; byFigure: boolean }>()
const emit = defineEmits<{ cell: [row: number, column: number] }>()
const bars = computed(() => barsOf(props.crossed, props.most))
const all = computed(() => props.crossed.cells[0]?.[0])
const more = computed(() => barsOf(props.crossed, Infinity).length - bars.value.length)
</script>

<template>
  <table class="bars">
    <tbody>
      <tr v-for="bar in bars" :key="bar.row">
        <th scope="row" :title="bar.head.text">{{ bar.head.text }}</th>
        <td class="room"
          ><span class="bar" :style="{ width: `${bar.part * 100}%`, background: bar.head.hue ? `var(--${bar.head.hue})` : undefined }"
        /></td>
        <td
          ><button type="button" class="figure" @click="emit('cell', bar.row, 0)">{{ readsOf(bar.cell, byFigure).lead }}</button></td
        >
        <td class="quiet">{{ bar.cell.share }}</td>
      </tr>
    </tbody>
    <tfoot v-if="all">
      <tr>
        <th scope="row"
          >All<template v-if="more > 0">, {{ more }} more</template></th
        >
        <td />
        <td
          ><button type="button" class="figure" @click="emit('cell', 0, 0)">{{ readsOf(all, byFigure).lead }}</button></td
        >
        <td />
      </tr>
    </tfoot>
  </table>
</template>

<style scoped src="./figures.css"></style>
<style scoped>
th {
  max-width: 140px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.room {
  width: 100%;
  padding-left: 0;
}
.bar {
  display: block;
  height: 8px;
  min-width: 1px;
  background: var(--slate);
}
</style>
