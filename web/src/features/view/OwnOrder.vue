<script setup lang="ts">
// What opens under *in its own order*: what that is, and how it ends.
import type { Ordering } from '@/api/types'

defineProps<{ ordering: Ordering | undefined; many: string }>()
const emit = defineEmits<{ forget: [] }>()
</script>

<template>
  <div class="own">
    <p>The {{ many }} stand where somebody put them. Drag one by its margin, or press Alt and Shift with an arrow; new ones come last.</p>
    <p v-if="ordering?.refusal" class="quiet">{{ ordering.refusal }}</p>
    <v-btn v-else variant="outlined" size="small" data-test="forget-order" @click="emit('forget')">Forget this order</v-btn>
  </div>
</template>

<style scoped>
.own {
  max-width: 340px;
}
p {
  margin: 0 0 var(--gap-2);
  font-size: 14px;
}
</style>
