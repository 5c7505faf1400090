<script setup lang="ts">
// Five verbs, always in the same places, each filled as far as it reaches: what one compares people by.
import type { Reaches } from '@/api/types'

defineProps<{ reaches: Reaches | undefined }>()
const VERBS = ['look', 'add', 'change', 'remove', 'build'] as const
const share = (reaches: Reaches, verb: (typeof VERBS)[number]) =>
  verb === 'build' ? (reaches.shares.build ? 1000 : 0) : reaches.shares[verb]
</script>

<template>
  <div v-if="reaches" class="reach" role="img" :aria-label="reaches.words">
    <span v-for="verb in VERBS" :key="verb" class="verb" :class="{ none: !share(reaches, verb) }"
      ><i :style="{ width: `${share(reaches, verb) / 10}%` }"
    /></span>
    <span class="by wide">{{ reaches.shares.by.join(', ') }}</span>
    <span class="by narrow">{{ reaches.words }}</span>
  </div>
  <p v-else class="by">not in it</p>
</template>

<style scoped>
.reach {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  gap: 0 8px;
  align-items: end;
}
.verb {
  height: 12px;
  border-bottom: 1px solid var(--line-strong);
  display: flex;
  align-items: flex-end;
}
.verb i {
  height: 8px;
  min-width: 2px;
  background: var(--moss);
}
.verb.none {
  border-bottom-style: dotted;
}
.verb.none i {
  min-width: 0;
}
.narrow {
  display: none;
}
/* Where the verbs do not stand above, the words say them. */
@media (max-width: 1100px) {
  .narrow {
    display: inline;
  }
  .wide {
    display: none;
  }
}
.by {
  grid-column: 1 / -1;
  margin: 0;
  font-size: 12.5px;
  line-height: 1.5;
  color: var(--quiet);
}
</style>
