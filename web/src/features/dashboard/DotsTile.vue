<script setup lang="ts">
// A dot for each record by two of its numbers: pressed, it opens; and the same as a table, which is read and walked by keys.
import { ScatterChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import VChart from 'vue-echarts'
import { usePreferredDark } from '@vueuse/core'
import type { Dots } from '@/api/types'
import { coloursOf, dotsOption } from './chart'

const props = defineProps<{ dots: Dots; tracker: number; table: number; title: string }>()
use([ScatterChart, GridComponent, TooltipComponent, SVGRenderer])
const router = useRouter()
const box = ref<HTMLElement>()
const dark = usePreferredDark()
const option = computed(() => dotsOption(props.dots, coloursOf([], box.value, dark.value)))
const told = ref(false)
const to = (record: number) => ({ name: 'record', params: { tracker: props.tracker, table: props.table, record } })
function press({ dataIndex }: { dataIndex: number }) {
  const dot = props.dots.dots[dataIndex]
  if (dot) void router.push(to(dot.record))
}
</script>

<template>
  <div ref="box">
    <VChart class="chart" :option="option" :init-options="{ renderer: 'svg' }" autoresize aria-hidden="true" @click="press" />
    <p class="quiet"
      >{{ dots.up }} by {{ dots.across }}: {{ dots.says }}.
      <button type="button" class="link" :aria-expanded="told" data-test="dots-table" @click="told = !told">{{
        told ? 'Without the table' : 'As a table'
      }}</button></p
    >
    <div v-if="told" class="sheet">
      <table>
        <caption class="unseen">{{ title }}</caption>
        <thead>
          <tr>
            <th scope="col">record</th>
            <th scope="col" class="number">{{ dots.across }}</th>
            <th scope="col" class="number">{{ dots.up }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="dot in dots.dots" :key="dot.record">
            <th scope="row"
              ><router-link :to="to(dot.record)">{{ dot.name }}</router-link></th
            >
            <td class="number">{{ dot.x_text }}</td>
            <td class="number">{{ dot.y_text }}</td>
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
p {
  margin: 0;
  font-size: 13px;
}
.sheet {
  max-height: 260px;
  overflow: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--quiet);
}
.number {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
a {
  color: inherit;
}
@media (max-width: 700px) {
  tbody a {
    display: grid;
    align-items: center;
    min-height: 44px;
  }
  .link {
    min-height: 44px;
  }
}
</style>
