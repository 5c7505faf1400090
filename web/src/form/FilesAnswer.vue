<script setup lang="ts">
// Files to send along: chosen, or taken with a phone's camera.
import type { Attachment } from '@/api/types'

const props = defineProps<{ id: string; described?: string }>()
const files = defineModel<File[]>({ required: true })
/** Those that stand there already. */
const held = defineModel<Attachment[]>('held', { default: () => [] })
const MOST = 10

function add(event: Event) {
  const input = event.target as HTMLInputElement
  files.value = [...files.value, ...(input.files ?? [])].slice(0, MOST)
  input.value = ''
}
const size = (bytes: number) => (bytes > 1_000_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.ceil(bytes / 1_000)} kB`)
const drop = (place: number) => (files.value = files.value.filter((_, n) => n !== place))
</script>

<template>
  <div class="files">
    <p v-for="file in held" :key="file.id" class="taken">
      <span>{{ file.name }}</span>
      <button type="button" :aria-label="`Take out ${file.name}`" @click="held = held.filter((one) => one.id !== file.id)">×</button>
    </p>
    <p v-for="(file, place) in files" :key="place" class="taken">
      <span
        >{{ file.name }} <small>{{ size(file.size) }}</small></span
      >
      <button type="button" :aria-label="`Take out ${file.name}`" @click="drop(place)">×</button>
    </p>
    <div class="ways">
      <div class="choose">
        <span aria-hidden="true">Choose files</span>
        <input :id="props.id" type="file" multiple accept="image/*,application/pdf" :aria-describedby="described" @change="add" />
      </div>
      <div class="choose camera">
        <span aria-hidden="true">Take a picture</span>
        <input type="file" accept="image/*" capture="environment" aria-label="Take a picture" @change="add" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.ways {
  display: flex;
  gap: 8px;
}
.choose {
  position: relative;
  flex: 1;
  border: 1px dashed var(--line-strong);
  border-radius: var(--corner);
  padding: 12px;
  margin-top: 4px;
  color: var(--quiet);
  font-size: 16px;
}
.choose:focus-within {
  outline: 2px solid var(--moss);
}
.choose input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
  width: 100%;
}
/* A camera is worth offering where there is one at hand. */
@media (hover: hover) {
  .camera {
    display: none;
  }
}
</style>
