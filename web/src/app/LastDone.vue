<script setup lang="ts">
// What one did last, with the way back; or why that could not be.
defineProps<{
  /** In words; nothing: nothing was done. */
  words?: string
  /** Whether it can be taken back. */
  undo?: boolean
  trouble: string
}>()
const emit = defineEmits<{ undo: []; close: [] }>()
</script>

<template>
  <p v-if="trouble || words" class="done" :role="trouble ? 'alert' : 'status'" data-test="undo-line">
    {{ trouble || words }}
    <button v-if="!trouble && undo" class="link" @click="emit('undo')">Undo</button>
    <button v-else aria-label="Close" class="link" @click="emit('close')">×</button>
  </p>
</template>

<style scoped>
.done {
  position: fixed;
  left: var(--gap-5);
  bottom: var(--gap-4);
  z-index: 6;
  display: flex;
  gap: var(--gap-3);
  margin: 0;
  padding: 8px 14px;
  max-width: calc(100vw - 2 * var(--gap-5));
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
}
</style>
