<script setup lang="ts">
// A sentence of core's, in phrases.
import type { Phrase } from '@/api/types'

defineProps<{ phrases: Phrase[] }>()
</script>

<template>
  <p class="says"
    ><template v-for="(phrase, n) in phrases" :key="n"
      ><b v-if="phrase.tone === 'strong'">{{ phrase.text }}</b
      ><template v-else>{{ phrase.text }}</template></template
    ></p
  >
</template>

<style scoped>
.says {
  margin: 18px 0 0;
  font: 20px/1.45 var(--serif);
}
b {
  font-weight: 600;
}
</style>
