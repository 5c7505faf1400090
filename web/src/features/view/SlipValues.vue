<script setup lang="ts">
// Which values there are and how often, at one scale; pressing chooses them.
import { computed } from 'vue'
import type { SlipValue } from '@/api/types'

const props = defineProps<{ values: SlipValue[]; more: number }>()
const chosen = defineModel<SlipValue[]>({ required: true })
/** Words that stand in them. */
const search = defineModel<string>('search', { required: true })

const most = computed(() => Math.max(1, ...props.values.map((value) => value.count)))
const has = (value: SlipValue) => chosen.value.some((one) => one.text === value.text)
/** Chosen, and not among those in sight. */
const elsewhere = computed(() => chosen.value.map((one) => one.text).filter((text) => !props.values.some((value) => value.text === text)))
const toggle = (value: SlipValue) =>
  (chosen.value = has(value) ? chosen.value.filter((one) => one.text !== value.text) : [...chosen.value, value])
</script>

<template>
  <v-text-field
    v-if="more || search"
    v-model="search"
    class="finder"
    type="search"
    placeholder="Look for a value"
    aria-label="Look for a value"
    density="compact"
    hide-details
    data-test="slip-search"
  />
  <div class="values" role="group" aria-label="Choose values">
    <button
      v-for="value in values"
      :key="value.text"
      type="button"
      :aria-pressed="has(value)"
      data-test="slip-value"
      @click="toggle(value)"
    >
      <span class="name">{{ value.text }}</span>
      <span class="bar"
        ><i :style="{ width: `${(100 * value.count) / most}%`, background: value.hue ? `var(--${value.hue})` : undefined }"
      /></span>
      <span class="count">{{ value.count }}</span>
    </button>
    <p v-if="more" class="quiet">and {{ more }} more</p>
    <p v-if="search && !values.length" class="quiet">Nothing like that stands here.</p>
    <p v-if="elsewhere.length" class="quiet">Chosen as well: {{ elsewhere.join(', ') }}</p>
  </div>
</template>

<style scoped>
.finder {
  width: 100%;
  margin-bottom: var(--gap-1);
}
.values {
  display: grid;
}
button {
  display: grid;
  grid-template-columns: minmax(90px, 2fr) 3fr 44px;
  gap: var(--gap-2);
  align-items: center;
  border: 0;
  border-radius: var(--corner);
  background: none;
  padding: 1px 6px;
  min-height: 24px;
  text-align: left;
  cursor: pointer;
  font: 14px/1.3 var(--sans);
}
button:is(:hover, :focus-visible),
button[aria-pressed='true'] {
  background: var(--moss-soft);
}
button[aria-pressed='true'] .name {
  font-weight: 600;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar {
  height: 10px;
}
.bar i {
  display: block;
  height: 100%;
  min-width: 2px;
  background: color-mix(in srgb, var(--moss) 55%, var(--sheet));
}
.count {
  text-align: right;
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
}
p {
  margin: 2px 6px 0;
  font-size: 13px;
}
</style>
