<script setup lang="ts">
// What was last done to the team, with a way back.
import type { TeamDone } from '@/api/types'

defineProps<{ last?: TeamDone; trouble: string }>()
const emit = defineEmits<{ undo: []; close: [] }>()
</script>

<template>
  <p v-if="trouble || last?.did" class="done" :role="trouble ? 'alert' : 'status'" data-test="undo-line">
    {{ trouble || `You ${last!.did}.` }}
    <button v-if="!trouble && last!.seq != null" class="link" @click="emit('undo')">Undo</button>
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
