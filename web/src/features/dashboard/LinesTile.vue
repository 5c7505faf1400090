<script setup lang="ts">
// Figures along days as lines, or laid on each other; and under them the same figures as a table with the same columns, so that each
// can be read and copied.
import { LineChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import { useElementSize, usePreferredDark } from '@vueuse/core'
import type { Crossed } from '@/api/types'
import { seriesOf } from './board'
import { coloursOf, optionOf } from './chart'

const props = defineProps<{ crossed: Crossed; byFigure: boolean; laid: boolean; title: string }>()
use([LineChart, GridComponent, TooltipComponent, SVGRenderer])

const box = ref<HTMLElement>()
const { width } = useElementSize(box)
const dark = usePreferredDark()
const drawn = computed(() => seriesOf(props.crossed, props.byFigure))
const colours = computed(() => coloursOf(drawn.value.series, box.value, dark.value))
const option = computed(() => optionOf(drawn.value, colours.value, props.laid))
/** Where there is no room for a figure under each point, every second stands there, or fewer. */
const every = computed(() => Math.max(1, Math.ceil((drawn.value.along.length * 62) / Math.max(200, width.value - 120))))
const short = (along: string) => along.replace(/^(\p{L}{3})\p{L}+/u, '$1')
</script>

<template>
  <div ref="box" class="lines">
    <VChart class="chart" :option="option" :init-options="{ renderer: 'svg' }" autoresize aria-hidden="true" />
    <div class="sheet">
      <table>
        <caption class="unseen">{{ title }}</caption>
        <thead>
          <tr>
            <th scope="col"><span class="unseen">by</span></th>
            <th v-for="(along, n) in drawn.along" :key="n" scope="col"
              ><span :class="{ unseen: n % every }">{{ short(along) }}</span></th
            >
          </tr>
        </thead>
        <tbody>
          <tr v-for="(one, s) in drawn.series" :key="s">
            <th scope="row"><span class="key" :style="{ background: colours.lines[s] }" aria-hidden="true" />{{ one.name || 'all' }}</th>
            <td v-for="(text, n) in one.texts" :key="n"
              ><span :class="{ unseen: n % every }">{{ text }}</span></td
            >
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.chart {
  height: 250px;
}
.sheet {
  overflow-x: auto;
}
table {
  width: 100%;
  table-layout: fixed;
  border-collapse: collapse;
  font-size: 13px;
}
th:first-child {
  width: 96px;
  text-align: left;
}
th {
  font-weight: 400;
  color: var(--quiet);
}
tbody th {
  color: inherit;
}
td,
th {
  padding: 3px 0;
  text-align: center;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
tbody tr {
  border-top: 1px solid var(--line);
}
.key {
  display: inline-block;
  width: 12px;
  height: 3px;
  margin-right: 6px;
  vertical-align: middle;
}
</style>
