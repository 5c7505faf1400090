<script setup lang="ts">
// What opens at a cell. It lies in the browser's top layer: over every row, whatever stacks or cuts off within the grid.
import { ref } from 'vue'
import { useAnchored, type Place } from './popup'

const props = defineProps<{
  /** What it opens at. */
  anchor: HTMLElement | undefined
  place: Place
}>()
const popup = ref<HTMLElement>()
useAnchored(
  popup,
  () => props.anchor,
  () => props.place,
)
</script>

<template>
  <div ref="popup" class="cell-popup" popover="manual" @click.stop>
    <!-- What drops from within it lies in the top layer too. -->
    <v-defaults-provider :defaults="popup && { VMenu: { attach: popup } }"><slot /></v-defaults-provider>
  </div>
</template>

<style scoped>
.cell-popup {
  inset: auto;
  margin: 0;
  padding: 0;
  border: 0;
  overflow: visible;
  background: none;
  color: var(--ink);
  max-width: calc(100vw - 16px);
  text-align: left;
  font-size: 13.5px;
  line-height: 1.4;
  white-space: normal;
}
</style>
