<script setup lang="ts">
// The page around a form: its picture and its colours.
import { computed } from 'vue'
import type { FormAppearance } from '@/api/types'
import { accents } from './colour'
import FormScene from './FormScene.vue'

const props = defineProps<{
  appearance?: FormAppearance
  team?: string
  link: string
  preview?: boolean
  /** Pictures that were just chosen and are not kept yet, by their ids. */
  fresh?: Record<string, string>
}>()
const colour = computed(() => accents(props.appearance?.colour))
// The picture's own id makes a changed one a new address.
const address = (which: string, id: string | null | undefined) =>
  id && (props.fresh?.[id] ?? `/api/public/forms/${encodeURIComponent(props.link)}/pictures/${which}?${id}`)
const picture = computed(() => address('head', props.appearance?.picture))
const mark = computed(() => address('mark', props.appearance?.mark))
</script>

<template>
  <component :is="preview ? 'div' : 'main'" class="respondent" :data-theme="appearance?.theme ?? 'fell'" :style="colour">
    <img v-if="picture" class="head" :src="picture" alt="" />
    <FormScene v-else :theme="appearance?.theme ?? 'fell'" />
    <p v-if="team || mark" class="team"><img v-if="mark" :src="mark" alt="" /> {{ team }}</p>
    <slot />
  </component>
</template>

<style>
.respondent {
  max-width: 560px;
  margin: 0 auto;
  padding: 0 20px 48px;
  min-height: 100dvh;
  background: var(--sheet);
}
.respondent .head {
  display: block;
  width: calc(100% + 40px);
  margin: 0 -20px;
  max-height: 190px;
  object-fit: cover;
}
.respondent .team img {
  height: 34px;
  max-width: 120px;
  vertical-align: middle;
  margin-right: 8px;
}
.respondent .team {
  margin: 14px 0 0;
  font-size: 14px;
  color: var(--quiet);
}
.respondent[data-theme='tarn'] {
  --moss: light-dark(#1f5d7d, #74b5d6);
  --moss-soft: light-dark(#e0ecf2, #1d3442);
}
.respondent[data-theme='heath'] {
  --moss: light-dark(#6b4a86, #b295cc);
  --moss-soft: light-dark(#eee7f3, #352a40);
}
.respondent[data-theme='quarry'] {
  --moss: light-dark(#47576a, #93a9bf);
  --moss-soft: light-dark(#e6eaef, #29323c);
}
.respondent[data-theme='hayfield'] {
  --moss: light-dark(#7d5b00, #d9b73f);
  --moss-soft: light-dark(#f5edd6, #3b3218);
}
</style>
