<script setup lang="ts">
// Records of a shared page as plates in a catalogue: a picture first, and what is said of it beneath.
import { computed } from 'vue'
import type { PageRow, PageRows, PageShape, PageTable } from '@/api/types'
import { contours, WIDTHS } from '@/features/view/cards/cards'
import DrawnLine from '@/features/view/cards/DrawnLine.vue'
import { usePage } from './asking'
import { filesIn } from './cells'
import { linesOf } from './groups'
import PageEntry from './PageEntry.vue'
import PageHead from './PageHead.vue'

const props = defineProps<{ part: PageTable; shape: Extract<PageShape, { as: 'cards' }>; told: PageRows }>()
const emit = defineEmits<{ open: [row: PageRow] }>()
const page = usePage()

const lines = computed(() => linesOf(props.told))
const without = computed(() => (props.shape.picture == null ? [] : [props.shape.picture]))
const pictureAt = computed(() => props.part.columns.findIndex((column) => column.field === props.shape.picture))
const pictureOf = (row: PageRow) => filesIn(row.cells[pictureAt.value]).find((file) => file.media.startsWith('image/'))
const longest = computed(() => (props.told.longest == null ? undefined : Number(props.told.longest)))
</script>

<template>
  <div class="plates" :style="{ '--wide': `${WIDTHS[shape.size]}px` }">
    <template v-for="line in lines" :key="line.key">
      <!-- eslint-disable-next-line vuejs-accessibility/heading-has-content -- its head is its content -->
      <h3 v-if="line.group" class="head"><PageHead :group="line.group" :figures="part.figures" /></h3>
      <div v-else class="plate">
        <button type="button" class="face" tabindex="-1" aria-hidden="true" @click="emit('open', line.row)">
          <img
            v-if="pictureOf(line.row)"
            :src="page.at(`/files/${pictureOf(line.row)!.id}`)"
            alt=""
            loading="lazy"
            :class="shape.fit === 'whole' ? 'whole' : 'cropped'"
          />
          <svg v-else viewBox="0 0 160 100" preserveAspectRatio="xMidYMid slice">
            <path v-for="(one, n) in contours(line.row.id)" :key="n" :d="one" />
          </svg>
        </button>
        <DrawnLine v-if="line.row.drawn" :drawn="line.row.drawn" :longest="longest" />
        <PageEntry :part="part" :row="line.row" :without="without" @open="emit('open', $event)" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.plates {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(var(--wide), 100%), 1fr));
  gap: 20px;
}
.head {
  grid-column: 1 / -1;
  margin: 8px 0 0;
  font: inherit;
  border-bottom: 1px solid var(--line-strong);
}
.plate {
  min-width: 0;
}
.plate :deep(.entry) {
  border-top: 0;
}
.face {
  display: block;
  width: 100%;
  aspect-ratio: 8 / 5;
  padding: 0;
  border: 0;
  background: var(--line);
  cursor: pointer;
  overflow: hidden;
}
img,
svg {
  display: block;
  width: 100%;
  height: 100%;
}
.cropped {
  object-fit: cover;
}
.whole {
  object-fit: contain;
}
path {
  fill: none;
  stroke: var(--line-strong);
}
</style>
