<script setup lang="ts">
// Records of a shared page in lanes: ledger columns under rules at one scale, one beneath the other where there is little room.
import { computed } from 'vue'
import type { PageRow, PageRows, PageTable } from '@/api/types'
import { lanesOf } from './groups'
import PageEntry from './PageEntry.vue'
import PageHead from './PageHead.vue'

const props = defineProps<{ part: PageTable; told: PageRows }>()
const emit = defineEmits<{ open: [row: PageRow] }>()

const by = computed(() => (props.part.shape.as === 'lanes' ? [props.part.shape.by] : []))
const lanes = computed(() => lanesOf(props.told))
/** The fullest lane, which has the longest rule. */
const most = computed(() => Math.max(1, ...props.told.groups.map((group) => group.count)))
</script>

<template>
  <div class="lanes">
    <section v-for="lane in lanes" :key="lane.group.text" class="lane" :aria-label="`${lane.group.text}, ${lane.group.counted}`">
      <div
        class="rule"
        :style="{
          width: `${(lane.group.count / most) * 100}%`,
          '--hue': lane.group.hue ? `var(--${lane.group.hue})` : 'var(--line-strong)',
        }"
      />
      <PageHead :group="lane.group" :figures="part.figures" />
      <PageEntry v-for="row in lane.rows" :key="row.id" :part="part" :row="row" :without="by" @open="emit('open', $event)" />
      <p v-if="lane.group.count > lane.rows.length" class="quiet">and {{ lane.group.count - lane.rows.length }} more</p>
    </section>
  </div>
</template>

<style scoped>
.lanes {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(190px, 1fr);
  gap: 0 20px;
  overflow-x: auto;
}
.lane {
  min-width: 0;
}
.rule {
  height: 4px;
  min-width: 1px;
  margin-bottom: 6px;
  background: var(--hue);
}
.quiet {
  margin: 6px 0 0;
  font-size: 13.5px;
  color: var(--quiet);
}
@media (max-width: 760px) {
  .lanes {
    grid-auto-flow: row;
    gap: 22px;
  }
}
</style>
