<script setup lang="ts">
// What one did last, with the way back, on pages that have no place of their own for it.
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'

const route = useRoute()
const edits = useEdits()
const { trouble, attempt } = useDoing()
// What was done elsewhere is no news here.
const before = edits.last.value
const last = computed(() => (edits.last.value === before ? undefined : edits.last.value))

watch(
  () => route.name,
  () => (edits.last.value = undefined),
)
watch(edits.last, () => (trouble.value = ''))

const undo = () => attempt(() => edits.undo())
</script>

<template>
  <p v-if="trouble || last" class="done" :role="trouble ? 'alert' : 'status'" data-test="undo-line">
    {{ trouble || last?.words }}
    <button v-if="!trouble && last?.undo" @click="undo">Undo</button>
    <button v-else aria-label="Close" @click="((edits.last.value = undefined), (trouble = ''))">×</button>
  </p>
</template>

<style scoped>
.done {
  position: fixed;
  left: var(--gap-5);
  bottom: var(--gap-4);
  z-index: 6;
  margin: 0;
  padding: 8px 14px;
  max-width: calc(100vw - 2 * var(--gap-5));
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
}
.done button {
  margin-left: var(--gap-2);
  border: 0;
  background: none;
  color: var(--moss);
  text-decoration: underline;
  cursor: pointer;
}
</style>
