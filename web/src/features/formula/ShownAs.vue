<script setup lang="ts">
// How a calculation's result is shown.
import type { Kind, ShownWay } from '@/api/types'

defineProps<{ ways: ShownWay[] }>()
const shows = defineModel<Kind>({ required: true })
</script>

<template>
  <fieldset class="shown">
    <legend>Shown as</legend>
    <label v-for="way in ways" :key="way.kind.type"
      ><input type="radio" name="shows" :checked="shows.type === way.kind.type" @change="shows = { ...way.kind }" /> {{ way.name }}</label
    >
    <span v-if="shows.type === 'number' || shows.type === 'percent'" class="more">
      with at least
      <input
        :value="shows.decimals"
        type="number"
        min="0"
        max="10"
        aria-label="Decimals"
        @input="shows = { ...shows, decimals: Math.max(0, Math.min(10, Number(($event.target as HTMLInputElement).value) || 0)) }"
      />
      decimals
    </span>
    <span v-if="shows.type === 'number'" class="more"
      >and the unit
      <input :value="shows.unit" size="6" aria-label="Unit" @input="shows = { ...shows, unit: ($event.target as HTMLInputElement).value }"
    /></span>
    <span v-if="shows.type === 'money'" class="more"
      >in
      <input
        :value="shows.currency"
        size="4"
        maxlength="3"
        aria-label="Currency"
        @change="shows = { ...shows, currency: ($event.target as HTMLInputElement).value.toUpperCase() }"
    /></span>
  </fieldset>
</template>

<style scoped>
.shown {
  border: 0;
  padding: 0;
  margin: var(--gap-4) 0 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-4);
  align-items: center;
}
legend {
  color: var(--quiet);
  font-size: 12.5px;
  padding: 0;
}
.more input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 2px 6px;
}
.more input[type='number'] {
  width: 56px;
}
</style>
