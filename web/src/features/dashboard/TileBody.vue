<script setup lang="ts">
// What a tile tells its reader, drawn as it is to be: words, a statement, a list, days, dots, or a cross-tab in one of its ways.
import { type Component, computed, defineAsyncComponent, h } from 'vue'
import type { Tile, TileReply } from '@/api/types'
import { leadsWithFigure } from '@/features/view/crosstab/crossing'
import BarsTile from './BarsTile.vue'
import DaysTile from './DaysTile.vue'
import ListTile from './ListTile.vue'
import PartsTile from './PartsTile.vue'
import StatementTile from './StatementTile.vue'
import TableTile from './TableTile.vue'

// What draws charts is read where there is one.
const drawn = <T extends Component>(loader: () => Promise<{ default: T }>) =>
  defineAsyncComponent({
    loader,
    // It keeps about the room that it will take.
    loadingComponent: () => h('div', { style: { height: '360px' } }),
    delay: 0,
  })
const LinesTile = drawn(() => import('./LinesTile.vue'))
const DotsTile = drawn(() => import('./DotsTile.vue'))

const props = defineProps<{ tile: Tile; told: TileReply }>()
const emit = defineEmits<{ cell: [row: number, column: number] }>()
const view = computed(() => (props.tile.shows.as === 'view' ? props.tile.shows : undefined))
const byFigure = computed(() => {
  const shape = view.value?.query.shape
  return shape?.as === 'cross-tab' && leadsWithFigure(shape, view.value?.query.tallies ?? [])
})
const words = computed(() => (props.tile.shows.as === 'text' ? props.tile.shows.text.split(/\n{2,}/) : []))
const said = computed(() => props.told.sentence.map((phrase) => (phrase.tone === 'offer' ? '' : phrase.text)).join(''))
</script>

<template>
  <p v-if="told.refused" class="quiet" data-test="tile-refused">{{ told.refused }}</p>
  <div v-else-if="tile.shows.as === 'text'" class="text">
    <p v-for="(part, n) in words" :key="n">{{ part }}</p>
  </div>
  <StatementTile v-else-if="told.statement" :told="told.statement" />
  <template v-else-if="told.crossed && view">
    <p v-if="told.crossed.rows.length < 2" class="quiet">There is none.</p>
    <BarsTile
      v-else-if="view.draws === 'bars'"
      :crossed="told.crossed"
      :most="view.most"
      :by-figure="byFigure"
      @cell="(row, column) => emit('cell', row, column)"
    />
    <PartsTile
      v-else-if="view.draws === 'parts'"
      :crossed="told.crossed"
      :by-figure="byFigure"
      @cell="(row, column) => emit('cell', row, column)"
    />
    <LinesTile
      v-else-if="view.draws === 'lines' || view.draws === 'areas'"
      :crossed="told.crossed"
      :by-figure="byFigure"
      :laid="view.draws === 'areas'"
      :title="said"
    />
    <TableTile v-else :crossed="told.crossed" :by-figure="byFigure" @cell="(row, column) => emit('cell', row, column)" />
  </template>
  <DotsTile v-else-if="told.dots && view" :dots="told.dots" :tracker="view.tracker" :table="view.table" :title="said" />
  <DaysTile v-else-if="told.days && view" :days="told.days" :tracker="view.tracker" :table="view.table" />
  <ListTile v-else-if="view" :told="told" :tracker="view.tracker" :table="view.table" />
</template>

<style scoped>
.text {
  font: 16px/1.5 var(--serif);
  white-space: pre-line;
}
p {
  margin: 0 0 var(--gap-2);
}
</style>
