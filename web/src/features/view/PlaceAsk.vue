<script setup lang="ts">
// Asks for a place in the view’s order: one to go to, or one to which a record goes.
import { ref } from 'vue'

const props = defineProps<{
  /** What is done with it, and the word on the button. */
  title: string
  does: string
  /** What goes there. */
  name?: string
  /** Where one is. */
  place?: number
  /** The last place there is. */
  most: number
}>()
const emit = defineEmits<{ say: [place: number]; leave: [] }>()

const place = ref<number | null>(props.place ?? 1)
function say() {
  if (place.value && place.value >= 1) emit('say', Math.min(place.value, props.most))
}
</script>

<template>
  <v-dialog :model-value="true" max-width="380" :aria-label="title" @update:model-value="emit('leave')">
    <form class="ask" @submit.prevent="say">
      <h2>{{ title }}</h2>
      <p v-if="name" class="quiet">{{ name }}</p>
      <p class="quiet">From 1 to {{ most }}</p>
      <v-number-input
        v-model="place"
        :min="1"
        :max="most"
        :aria-label="`From 1 to ${most}`"
        control-variant="hidden"
        autofocus
        data-test="place"
      />
      <p class="acts">
        <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
        <v-btn type="submit" color="primary" data-test="say-place">{{ does }}</v-btn>
      </p>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  padding: var(--gap-4);
  background: var(--sheet);
}
h2 {
  margin: 0;
  font: 600 18px var(--serif);
}
p {
  margin: 0 0 var(--gap-3);
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
  margin: 0;
}
</style>
