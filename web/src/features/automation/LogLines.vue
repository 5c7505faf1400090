<script setup lang="ts">
// What a run did or would do, a line for each step, each with its sign.
import type { LogLine } from '@/api/types'

defineProps<{ log: LogLine[] }>()
</script>

<template>
  <p v-for="(line, at) in log" :key="at" :class="line.outcome">{{ line.text }}</p>
</template>

<style scoped>
p {
  margin: 0;
}
.yes::before {
  content: '✓ ';
  color: var(--moss);
}
.no::before {
  content: '✕ ';
  color: var(--copper);
}
.waits::before {
  content: '○ ';
  color: var(--copper);
}
.failed::before {
  content: '! ';
  color: var(--fault);
  font-weight: 700;
}
</style>
