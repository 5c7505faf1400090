<script setup lang="ts">
// The foot of a view: how many records there are, its tallies, and where one is.
defineProps<{
  /** How many records there are, in words. */
  counted: string | undefined
  tallies: { field: number; name: string; text: string }[]
  place: number | undefined
  total: number | undefined
  /** Whether there is a record to open. */
  opens: boolean
}>()
const emit = defineEmits<{ open: [] }>()
</script>

<template>
  <div class="tally" data-test="tally">
    <b>{{ counted ?? '…' }}</b>
    <span v-for="tally in tallies" :key="tally.field"
      >{{ tally.name }} <b>{{ tally.text }}</b></span
    >
    <span v-if="place !== undefined" class="place">{{ place + 1 }} of {{ total }}</span>
    <button v-if="opens" class="open" data-test="open-folio" @click="emit('open')">Open folio</button>
  </div>
</template>

<style scoped>
.tally {
  display: flex;
  gap: var(--gap-5);
  background: var(--stone);
  border-top: 1px solid var(--line-strong);
  color: var(--quiet);
  font-size: 12.5px;
  padding: 5px 10px;
  align-items: center;
}
.tally b {
  color: var(--ink);
  font-weight: 600;
}
.place {
  margin-left: auto;
}
.open {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline;
}
</style>
