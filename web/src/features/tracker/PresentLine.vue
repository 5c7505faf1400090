<script setup lang="ts">
// Who else has this open, by their initials; where they are is said beside.
import { computed } from 'vue'
import type { PresentOne } from '@/api/types'
import FaceMark from '@/features/people/FaceMark.vue'
import { initialsOf, useOthers } from './presence'
import { useTracker } from './tracker'

const props = defineProps<{
  table: number
  /** One record of it alone. */
  record?: number
}>()

const others = useOthers()
const { tracker } = useTracker()
const faceOf = (one: PresentOne) => tracker.value?.people.find((known) => known.id === one.person) ?? { initials: initialsOf(one.name) }
const here = computed(() =>
  others.value.filter((one) => one.table === props.table && (props.record === undefined || one.record === props.record)),
)
/** Each person once, where they are deepest in. */
const people = computed(() => {
  const known = new Map<number, PresentOne>()
  for (const one of here.value) if (!known.get(one.person)?.field) known.set(one.person, one)
  return [...known.values()]
})
</script>

<template>
  <span v-if="people.length" class="present" role="status" data-test="present"
    ><template v-for="(one, n) in people" :key="one.person"
      ><template v-if="n">, </template><FaceMark :person="faceOf(one)" :size="20" /> {{ one.says }}</template
    ></span
  >
</template>

<style scoped>
.present {
  margin-left: var(--gap-2);
  color: var(--plum);
  font-size: 13px;
  font-weight: 600;
}
</style>
