<script setup lang="ts">
// The mark of a date: a pennant for the first, a ring, a bar and a square for the others.
defineProps<{ date: number }>()
</script>

<template>
  <svg viewBox="0 0 10 14" width="10" height="14" aria-hidden="true">
    <path d="M1.5 1v13" />
    <path v-if="date === 0" d="M1.5 1.5l7.5 3-7.5 3z" class="full" />
    <circle v-else-if="date === 1" cx="5" cy="4.5" r="3" />
    <path v-else-if="date === 2" d="M1.5 2h7" />
    <path v-else d="M2 2h6v5h-6z" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
path,
circle {
  fill: none;
  stroke: var(--mark, var(--ink));
  stroke-width: 1.6;
}
.full {
  fill: var(--mark, var(--ink));
}
</style>
