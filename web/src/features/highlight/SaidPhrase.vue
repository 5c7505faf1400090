<script setup lang="ts">
// A phrase as it is read: what says how something looks is set as that looks.
import type { Look, Phrase } from '@/api/types'
import LookMark from './LookMark.vue'
import { lookClass, lookStyle } from './looks'

defineProps<{ phrase: Phrase; look: Look | undefined }>()
</script>

<template>
  <span class="as-looks" :class="lookClass(look)" :style="lookStyle(look)"
    ><LookMark v-if="look?.sign" :look="{ sign: look.sign }" />{{ phrase.text }}</span
  >
</template>
