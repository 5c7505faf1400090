<script setup lang="ts">
// A cell as it is read: the same in rows and in the folio.
import { computed } from 'vue'
import type { Cell, Field, Look } from '@/api/types'
import LookMark from '@/features/highlight/LookMark.vue'
import { addressOf, isPicture } from '@/features/files/files'
import FaceMark from '@/features/people/FaceMark.vue'
import { useTracker } from '@/features/tracker/tracker'
import { errorOf, files, hue, optionOf, peopleIn } from './kinds'

const props = defineProps<{
  field: Field
  cell: Cell | null | undefined
  /** How highlights make it look; what holds it is drawn so. */
  look?: Look
}>()
/** Most faces that stand in one cell. */
const FACES = 3
const option = computed(() => optionOf(props.field, props.cell))
const held = computed(() => files(props.cell))
const pictures = computed(() => held.value.filter(isPicture))
const others = computed(() => held.value.filter((file) => !isPicture(file)).map((file) => file.name))
const error = computed(() => errorOf(props.cell))
const { tracker } = useTracker()
/** Whoever stands there, as far as the team knows them: their face goes before their name. */
const faces = computed(() => {
  const ids = peopleIn(props.cell)
  return ids.length ? (tracker.value?.people ?? []).filter((one) => ids.includes(one.id)) : []
})
const web = computed(() => {
  const value = props.cell?.value
  return typeof value === 'object' && 'web' in value ? value.web : undefined
})
</script>

<template>
  <LookMark :look="look" />
  <span v-if="cell?.source != null" class="moved" :title="`It was copied. There it is now ${cell.source || 'empty'}.`">
    <span aria-hidden="true">≠</span><span class="unseen">Where it was copied from it is now {{ cell.source || 'empty' }}; here</span></span
  >
  <span v-if="option" class="choice" :style="{ '--hue': hue(option) }">{{ option.name }}</span>
  <span v-else-if="held.length" class="pictures">
    <img v-for="file in pictures.slice(0, 3)" :key="file.id" :src="addressOf(file, 'small')" :alt="file.name" loading="lazy" />
    <span v-if="pictures.length > 3" class="quiet">+{{ pictures.length - 3 }}</span>
    <span v-if="others.length">{{ others.join(', ') }}</span>
  </span>
  <span v-else-if="cell?.waits" class="waits" title="A name that waits for somebody to say who is meant"
    ><span aria-hidden="true">?</span> {{ cell.text }}</span
  >
  <span v-else-if="error" class="error" :title="error"><span aria-hidden="true">⚠</span> {{ cell?.text }}</span>
  <a v-else-if="web" :href="web.address" target="_blank" rel="noreferrer noopener" @click.stop>{{ cell?.text }}</a>
  <template v-else
    ><span v-if="faces.length" class="faces"><FaceMark v-for="one in faces.slice(0, FACES)" :key="one.id" :person="one" :size="18" /></span
    >{{ cell?.text }}</template
  >
</template>

<style scoped>
.waits {
  color: var(--copper);
}
.moved {
  color: var(--copper);
  margin-right: 4px;
}
.error {
  color: var(--fault);
}
.pictures {
  display: inline-flex;
  gap: 3px;
  align-items: center;
  vertical-align: middle;
}
.faces {
  display: inline-flex;
  gap: 2px;
  margin: -2px 5px 0 0;
  vertical-align: middle;
}
.pictures img {
  height: var(--thumb, 24px);
  width: calc(var(--thumb, 24px) * 1.5);
  object-fit: cover;
  border-radius: 2px;
  display: block;
}
</style>
