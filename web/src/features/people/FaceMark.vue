<script setup lang="ts">
// Somebody's picture, or the initials that stand for it. It says nothing by itself: their name stands beside, or is said by what holds it.
import type { PersonView } from '@/api/types'

withDefaults(
  defineProps<{
    person: Pick<PersonView, 'initials' | 'picture'>
    /** How wide and high, in pixels. */
    size?: number
  }>(),
  { size: 20 },
)
</script>

<template>
  <img v-if="person.picture" class="face" :style="{ '--face': `${size}px` }" :src="person.picture" alt="" loading="lazy" />
  <i v-else class="face" :style="{ '--face': `${size}px` }" :data-initials="person.initials" aria-hidden="true" />
</template>

<style scoped>
.face {
  display: inline-flex;
  flex: none;
  align-items: center;
  justify-content: center;
  width: var(--face);
  height: var(--face);
  border-radius: 50%;
  vertical-align: middle;
  object-fit: cover;
}
i.face {
  border: 1px solid var(--line-strong);
  color: var(--quiet);
  font: 600 calc(var(--face) * 0.42) / 1 var(--sans);
}
/* As content it is neither copied nor found as text of the cell. */
i.face::before {
  content: attr(data-initials);
}
</style>
