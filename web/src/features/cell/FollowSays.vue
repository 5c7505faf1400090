<script setup lang="ts">
// What would follow by itself, said before it is kept; where one has to agree to it first, with the two ends.
import { onMounted, ref } from 'vue'

const props = defineProps<{
  says: readonly string[]
  /** On the button that does it; none: it is kept as everything else that is typed or picked. */
  act?: string
}>()
const emit = defineEmits<{ act: []; leave: [] }>()
const box = ref<HTMLElement>()
onMounted(() => {
  if (props.act) box.value?.querySelector<HTMLElement>('button')?.focus({ preventScroll: true })
})
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- Escape anywhere in it leaves it -->
  <div ref="box" class="follows" data-test="follows" @mousedown.stop @keydown.stop @keydown.esc.prevent="emit('leave')">
    <p role="status">{{ says.join(' ') }}</p>
    <div v-if="act" class="acts">
      <v-btn size="small" color="primary" data-test="follows-do" @click="emit('act')">{{ act }}</v-btn>
      <v-btn size="small" variant="text" data-test="follows-leave" @click="emit('leave')">Leave it</v-btn>
    </div>
  </div>
</template>

<style scoped>
.follows {
  width: max-content;
  min-width: min(220px, calc(100vw - 16px));
  max-width: min(380px, calc(100vw - 16px));
  padding: 6px 8px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  color: var(--ink);
}
p {
  margin: 0;
}
.acts {
  display: flex;
  gap: var(--gap-2);
  margin-top: 6px;
}
@media (pointer: coarse) {
  .acts > * {
    min-height: 44px;
  }
}
</style>
