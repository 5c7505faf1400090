<script setup lang="ts">
// What a highlight puts before a value: a sign, a word.
import type { Look } from '@/api/types'
import { SIGNS } from './signs'

defineProps<{ look: Look | undefined }>()
</script>

<template>
  <svg
    v-if="look?.sign"
    class="look-sign"
    viewBox="0 0 24 24"
    width="14"
    height="14"
    role="img"
    :aria-label="look.sign.name"
    :style="{ color: look.sign.hue ? `var(--${look.sign.hue})` : undefined }"
  >
    <path :d="SIGNS[look.sign.name] ?? SIGNS.dot" fill="currentColor" />
  </svg>
  <span v-if="look?.word" class="look-word">{{ look.word }}</span>
</template>
