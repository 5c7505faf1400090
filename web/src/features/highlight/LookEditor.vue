<script setup lang="ts">
// How something looks: each effect by its name, drawn as itself. No effect until one is chosen.
import { computed, ref } from 'vue'
import type { Look } from '@/api/types'
import HuePick from '@/features/menu/HuePick.vue'
import { lookClass } from './looks'
import { SIGNS, signsLike } from './signs'

const props = defineProps<{ look: Look }>()
const emit = defineEmits<{ change: [look: Look] }>()

type Flag = 'bold' | 'italic' | 'struck'
const FLAGS: [Flag, string][] = [
  ['bold', 'bold'],
  ['italic', 'italic'],
  ['struck', 'struck through'],
]

const put = (part: Partial<Look>) => emit('change', { ...props.look, ...part })
const inkHue = computed(() => (typeof props.look.ink === 'object' ? props.look.ink?.of : undefined))
const searched = ref('')
const signs = computed(() => signsLike(searched.value).slice(0, 30))
function sign(name: string) {
  put({ sign: props.look.sign?.name === name ? null : { name, hue: props.look.sign?.hue ?? null } })
}
</script>

<template>
  <div class="looks" data-test="look-editor">
    <fieldset>
      <legend>Letters</legend>
      <button
        v-for="[flag, words] in FLAGS"
        :key="flag"
        type="button"
        :aria-pressed="!!look[flag]"
        :class="lookClass({ [flag]: true })"
        :data-look="flag"
        @click="put({ [flag]: !look[flag] })"
        >{{ words }}</button
      >
      <button
        v-for="size in ['larger', 'smaller'] as const"
        :key="size"
        type="button"
        :aria-pressed="look.size === size"
        :class="lookClass({ size })"
        :data-look="size"
        @click="put({ size: look.size === size ? null : size })"
        >{{ size }}</button
      >
      <button
        type="button"
        class="look-quiet"
        :aria-pressed="look.ink === 'quiet'"
        data-look="quiet"
        @click="put({ ink: look.ink === 'quiet' ? null : 'quiet' })"
        >quiet</button
      >
    </fieldset>
    <fieldset>
      <legend>Their colour</legend>
      <HuePick
        :model-value="inkHue"
        :as="(hue) => ({ ink: { of: hue } })"
        of="ink"
        @update:model-value="put({ ink: $event ? { of: $event } : null })"
      />
    </fieldset>
    <fieldset>
      <legend>Edge</legend>
      <HuePick :model-value="look.edge" :as="(hue) => ({ edge: hue })" of="edge" @update:model-value="put({ edge: $event })" />
    </fieldset>
    <fieldset>
      <legend>Ground</legend>
      <HuePick :model-value="look.fill" :as="(hue) => ({ fill: hue })" of="fill" @update:model-value="put({ fill: $event })" />
    </fieldset>
    <fieldset>
      <legend>A word before it, or where it is empty</legend>
      <input
        :value="look.word ?? ''"
        aria-label="The word"
        class="boxed"
        maxlength="40"
        data-test="look-word"
        @change="put({ word: ($event.target as HTMLInputElement).value })"
      />
    </fieldset>
    <fieldset>
      <legend>A sign before it</legend>
      <input v-model="searched" aria-label="Search among the signs" class="boxed" placeholder="Search" />
      <div class="signs">
        <button
          v-for="name in signs"
          :key="name"
          type="button"
          :aria-pressed="look.sign?.name === name"
          :aria-label="name"
          :title="name"
          :data-sign="name"
          @click="sign(name)"
          ><svg viewBox="0 0 24 24" width="18" height="18" aria-hidden="true"><path :d="SIGNS[name]" fill="currentColor" /></svg
        ></button>
        <p v-if="!signs.length" class="quiet">No sign is called that.</p>
      </div>
      <HuePick
        v-if="look.sign"
        role="group"
        aria-label="The sign’s colour"
        :model-value="look.sign.hue"
        :as="(hue) => ({ ink: { of: hue } })"
        of="sign-hue"
        says="the sign in"
        @update:model-value="put({ sign: { name: look.sign!.name, hue: $event } })"
      />
    </fieldset>
  </div>
</template>

<style scoped>
.looks {
  display: grid;
  gap: var(--gap-2);
  max-width: 460px;
  max-height: min(60vh, 460px);
  overflow-y: auto;
}
fieldset {
  border: 0;
  border-top: 1px solid var(--line);
  padding: var(--gap-1) 0 0;
  margin: 0;
}
legend {
  float: left;
  width: 100%;
  font-size: 12px;
  color: var(--quiet);
}
fieldset > * {
  clear: left;
}
fieldset > button,
.signs button {
  clear: none;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
  padding: 3px 8px;
  min-height: 28px;
  border-radius: var(--corner);
}
button[aria-pressed='true'] {
  outline: 2px solid var(--moss);
  outline-offset: -2px;
}
.signs {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin-top: 4px;
}
.signs button {
  padding: 4px;
}
input {
  width: 220px;
}
@media (pointer: coarse) {
  fieldset > button,
  .signs button {
    min-height: 40px;
    min-width: 40px;
  }
}
</style>
