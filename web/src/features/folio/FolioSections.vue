<script setup lang="ts">
// An opened record's sections, what is put away, and the way to arranging both.
import { computed, ref } from 'vue'
import type { LaidSection } from '@/api/types'
import { useClosed, useDesk } from './desk'
import FolioSection from './FolioSection.vue'

defineProps<{
  /** Whether one may arrange how the table's records are laid out. */
  arranges?: boolean
}>()
const emit = defineEmits<{ arrange: [] }>()

const desk = useDesk()
const shownAway = ref(false)
const { isClosed, toggle } = useClosed()
const away = computed<LaidSection>(() => ({
  heading: '',
  two: false,
  closed: false,
  fields: desk.value.laid.away.map((field) => ({ field, wide: false })),
}))
</script>

<template>
  <FolioSection
    v-for="(section, n) in desk.laid.sections"
    :key="`${n} ${section.heading}`"
    :section="section"
    :closed="isClosed(section.heading, section.closed)"
    @toggle="toggle(section.heading, section.closed)"
  />
  <FolioSection v-if="shownAway" class="away" :section="away" :closed="false" />
  <p v-if="away.fields.length || arranges" class="foot">
    <template v-if="away.fields.length"
      >{{ away.fields.length }} more {{ away.fields.length === 1 ? 'field is' : 'fields are' }}
      <button type="button" :aria-expanded="shownAway" data-test="put-away" @click="shownAway = !shownAway">{{
        shownAway ? 'shown' : 'put away'
      }}</button></template
    ><template v-if="away.fields.length && arranges">; </template>
    <button v-if="arranges" type="button" data-test="arrange" @click="emit('arrange')">arrange</button>
  </p>
</template>

<style scoped>
.away {
  margin-top: var(--gap-4);
}
.foot {
  margin: var(--gap-3) 0 0;
  font-size: 13px;
  color: var(--quiet);
}
button {
  border: 0;
  background: none;
  padding: 2px 0;
  font: inherit;
  color: var(--moss);
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
  text-decoration-color: var(--line-strong);
}
@media (pointer: coarse) {
  button {
    min-height: 40px;
  }
}
</style>
