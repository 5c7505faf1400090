<script setup lang="ts">
// Files on their way: how far each is, and what stopped it.
import { sizeText } from './files'
import type { Sending } from './sending'

defineProps<{ lines: readonly Sending[] }>()
const emit = defineEmits<{ stop: [key: number]; goOn: [key: number] }>()

const leaving = (line: Sending) => (line.here ? 'take out' : line.trouble ? 'leave it' : 'stop')
const share = (line: Sending) => Math.round((100 * line.at) / Math.max(line.size, 1))
</script>

<template>
  <ul v-if="lines.length" class="sends" aria-label="Files on their way">
    <li v-for="line in lines" :key="line.key">
      <span class="name">{{ line.name }}</span>
      <span v-if="line.trouble" class="fault-text" role="alert">{{ line.trouble }}</span>
      <span v-else-if="line.here" class="quiet figures">{{ sizeText(line.size) }}</span>
      <span v-else class="quiet figures">{{ sizeText(line.at) }} of {{ sizeText(line.size) }}</span>
      <button v-if="line.again" type="button" class="word" @click="emit('goOn', line.key)">go on</button>
      <button type="button" class="word" :aria-label="`${leaving(line)}: ${line.name}`" @click="emit('stop', line.key)">{{
        leaving(line)
      }}</button>
      <v-progress-linear
        v-if="!line.trouble && !line.here"
        :model-value="share(line)"
        height="2"
        color="primary"
        :aria-label="`${line.name}: ${share(line)} of 100 are here`"
      />
    </li>
  </ul>
</template>

<style scoped>
.sends {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
  font-size: 13px;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  column-gap: 10px;
  padding: 2px 0;
}
.name {
  overflow-wrap: anywhere;
}
.figures {
  margin-left: auto;
}
.word {
  min-height: 24px;
  padding: 2px 4px;
  border: 0;
  background: none;
  color: var(--moss);
  font: inherit;
  cursor: pointer;
}
</style>
