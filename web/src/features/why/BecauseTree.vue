<script setup lang="ts">
// The parts of a condition: which held, which did not, and what stands there.
import type { Because } from '@/api/types'

defineProps<{ because: Because }>()
</script>

<template>
  <!-- Of one part alone there is nothing to join. -->
  <BecauseTree v-if="because.parts.length === 1" :because="because.parts[0]!" />
  <div v-else class="part" :class="because.holds ? 'yes' : 'no'">
    <p>
      <span class="sign" role="img" :aria-label="because.holds ? 'Holds:' : 'Does not hold:'">{{ because.holds ? '✓' : '✕' }}</span>
      {{ because.words }}<span v-if="because.found != null" class="quiet"> (it says {{ because.found }})</span>
    </p>
    <div v-if="because.parts.length" class="parts">
      <BecauseTree v-for="(part, place) in because.parts" :key="place" :because="part" />
    </div>
  </div>
</template>

<style scoped>
p {
  margin: 2px 0;
}
.parts {
  margin-left: 8px;
  padding-left: 12px;
  border-left: 1px solid var(--line);
}
.sign {
  display: inline-block;
  width: 16px;
}
.yes > p .sign {
  color: var(--moss);
}
.no > p .sign {
  color: var(--copper);
}
</style>
