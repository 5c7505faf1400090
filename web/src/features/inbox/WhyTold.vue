<script setup lang="ts">
// Why something stands in one's inbox, told where one asks.
import { ref } from 'vue'

defineProps<{ why: string }>()
const asked = ref(false)
</script>

<template>
  <button type="button" class="link" :aria-expanded="asked" data-test="why-told" @click="asked = !asked">why?</button>
  <span v-if="asked" class="why" role="status">{{ why }}</span>
</template>

<style scoped>
.why {
  color: var(--quiet);
  font-size: 13px;
  flex-basis: 100%;
}
</style>
