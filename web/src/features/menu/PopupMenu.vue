<script setup lang="ts">
// What can be done here, as a list over the page: by mouse where one pressed, by keys with arrows, letters and Escape.
import { nextTick, ref, watch } from 'vue'

const props = defineProps<{
  /** Where it opens, in CSS pixels of the window; nothing: it is closed. */
  at: { x: number; y: number } | undefined
  label: string
  /** Whether it stays open while one presses in it. */
  stays?: boolean
}>()
const emit = defineEmits<{ close: [] }>()

const list = ref<HTMLElement>()
let before: HTMLElement | undefined

const items = () => [...(list.value?.querySelectorAll<HTMLElement>('button:not(:disabled), a[href]') ?? [])]

watch(
  () => props.at,
  async (now, old) => {
    if (now && !old) {
      before = document.activeElement instanceof HTMLElement ? document.activeElement : undefined
      await nextTick()
      // Once the overlay has drawn it.
      requestAnimationFrame(() => items()[0]?.focus({ preventScroll: true }))
    }
    if (!now && old) before?.focus({ preventScroll: true })
  },
)

function keys(event: KeyboardEvent) {
  const all = items()
  const here = all.indexOf(document.activeElement as HTMLElement)
  const to = (place: number) => all[(place + all.length) % all.length]?.focus()
  if (event.key === 'ArrowDown') to(here + 1)
  else if (event.key === 'ArrowUp') to(here - 1)
  else if (event.key === 'Home') to(0)
  else if (event.key === 'End') to(all.length - 1)
  else if (event.key === 'Tab') emit('close')
  else if (event.key === 'Escape') emit('close')
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <v-menu
    :model-value="!!at"
    :target="at ? [at.x, at.y] : undefined"
    :retain-focus="false"
    :close-on-content-click="!stays"
    @update:model-value="(open: boolean) => !open && emit('close')"
  >
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- it is a group whose buttons take the keys -->
    <div v-if="at" ref="list" class="popup" role="group" :aria-label="label" data-test="popup" @keydown="keys"><slot /></div>
  </v-menu>
</template>
