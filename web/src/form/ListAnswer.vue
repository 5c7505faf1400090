<script setup lang="ts">
// Things to tick off, a line each: ticked, taken out, and more of them written beneath.
import { ref } from 'vue'
import type { Item } from './answer'

defineProps<{ id: string; label: string; described?: string }>()
const items = defineModel<Item[]>({ required: true })
const more = ref('')

const change = (place: number, part: Partial<Item>) =>
  (items.value = items.value.map((one, n) => (n === place ? { ...one, ...part } : one)))
function add() {
  const text = more.value.trim()
  if (text) items.value = [...items.value, { text, done: false }]
  more.value = ''
}
</script>

<template>
  <div class="list">
    <p v-for="(item, place) in items" :key="place" class="taken">
      <label
        ><input type="checkbox" :checked="item.done" @change="change(place, { done: !item.done })" />
        <span :class="{ done: item.done }">{{ item.text }}</span></label
      >
      <button type="button" :aria-label="`Take out ${item.text}`" @click="items = items.filter((_, n) => n !== place)">×</button>
    </p>
    <input
      :id="id"
      v-model="more"
      :aria-label="`One more of ${label}`"
      :aria-describedby="described"
      placeholder="one more"
      @keydown.enter.prevent="add"
      @blur="add"
    />
  </div>
</template>

<style scoped>
label {
  display: flex;
  flex: 1;
  gap: 10px;
  align-items: center;
}
.done {
  color: var(--quiet);
  text-decoration: line-through;
}
</style>
