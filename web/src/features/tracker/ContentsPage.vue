<script setup lang="ts">
import ContentsPanel from './ContentsPanel.vue'
import { currentTracker } from './tracker'
</script>

<template>
  <section v-if="currentTracker" class="front">
    <h1>{{ currentTracker.name }}</h1>
    <p>{{ currentTracker.description }}</p>
    <ContentsPanel :tracker="currentTracker" class="all" />
  </section>
</template>

<style scoped>
.front {
  padding: 36px var(--gap-5);
  max-width: 1100px;
  margin: 0 auto;
}
h1 {
  font-size: 30px;
}
p {
  font: 17px/1.5 var(--serif);
  color: var(--quiet);
  margin: 6px 0 var(--gap-5);
}
.all {
  border-width: 1px 0 0;
  background: none;
  padding: var(--gap-5) 0;
}
</style>
