<script setup lang="ts">
// What every editor of a step has around it: what is wrong, and keeping or leaving it.
defineProps<{
  fault?: string
  /** It can't be kept as it stands. */
  blocked?: boolean
  /** The mark of the button that keeps it. */
  test: string
}>()
const emit = defineEmits<{ keep: []; leave: [] }>()
</script>

<template>
  <div class="step-shell">
    <slot />
    <p v-if="fault" class="fault-text" role="alert">{{ fault }}</p>
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn color="primary" :disabled="blocked" :data-test="test" @click="emit('keep')">Keep this</v-btn>
    </div>
  </div>
</template>

<style scoped>
.step-shell {
  width: min(560px, 90vw);
  max-width: 100%;
}
.step-shell :slotted(.lead) {
  margin: 0 0 var(--gap-2);
  font: 16px/1.5 var(--serif);
}
.step-shell :slotted(.lead) :is(.boxed) {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
  margin-top: var(--gap-3);
}
</style>
