<script setup lang="ts">
// Among the sorts: an order by hand, begun as things stand.
import type { Ordering } from '@/api/types'

defineProps<{ ordering: Ordering; sorted: boolean; lanes: boolean }>()
const emit = defineEmits<{ begin: [] }>()
</script>

<template>
  <p v-if="ordering.own && sorted" class="quiet">Its own order rests while it is sorted.</p>
  <p v-else-if="sorted || (lanes && !ordering.own)" class="hand">
    <v-btn variant="text" size="small" data-test="by-hand" @click="emit('begin')">Put them in order by hand from here</v-btn>
  </p>
  <p v-else class="quiet">Without a sort they stand by hand: drag one by its margin.</p>
</template>

<style scoped>
p {
  margin: 0;
  font-size: 13px;
}
.hand {
  margin-left: -8px;
}
</style>
