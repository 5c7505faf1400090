<script setup lang="ts">
// Raised from the foot while several cells are selected: what they come to, and what can be done with them.
import { figure } from '@/theme/own'
import type { Selection } from './selecting'

defineProps<{ selection: Selection; readonly: boolean }>()
const emit = defineEmits<{ pick: [] }>()
</script>

<template>
  <div v-if="selection.size.value > 1" class="tray" role="region" aria-label="Selected cells" data-test="block-tray">
    <p aria-live="polite"
      ><b>{{ figure(selection.size.value) }} cells</b>{{ ' '
      }}<span v-for="says in selection.sums.value" :key="says" class="says">{{ says }}</span></p
    >
    <button type="button" class="link" data-test="block-copy" @click="selection.copy(null)">copy</button>
    <template v-if="!readonly">
      <button type="button" class="link" data-test="block-down" @click="selection.down()">fill down</button>
      <button type="button" class="link" data-test="block-on" @click="selection.goOn()">go on from the first two</button>
      <button type="button" class="link" data-test="block-change" @click="selection.change()">change their records …</button>
      <button v-if="selection.whole.value" type="button" class="link" data-test="block-bin" @click="selection.bin()">into the bin</button>
      <button type="button" class="link" data-test="block-empty" @click="selection.empty()">empty them</button>
    </template>
    <button type="button" class="link" data-test="block-pick" @click="emit('pick')">choose their records</button>
    <button type="button" class="link" @click="selection.clear()">let go</button>
  </div>
</template>

<style scoped>
.tray {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: baseline;
  padding: 7px 10px;
  background: var(--moss-soft);
  border-top: 1px solid var(--moss);
  font-size: 13px;
}
p {
  margin: 0 auto 0 0;
}
.says {
  margin-left: var(--gap-4);
}
</style>
