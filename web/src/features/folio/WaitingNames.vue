<script setup lang="ts">
// Names that were given for people and fit nobody, or several: one press says who is meant.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import type { Table, Waiting } from '@/api/types'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ waiting: Waiting[]; table: Table; change: boolean }>()
const emit = defineEmits<{ settle: [field: number, person: number | undefined] }>()
const nameOf = (field: number) => props.table.fields.find((f) => f.id === field)?.name ?? ''
const people = () => currentTracker.value?.people ?? []
</script>

<template>
  <div
    v-for="one in waiting"
    :key="one.field + one.text"
    class="waiting"
    role="group"
    :aria-label="`Who is meant in ${nameOf(one.field)}`"
    data-test="waiting"
  >
    <p>
      “{{ one.text }}” was given for {{ nameOf(one.field) }}, and
      {{
        one.candidates.length > 1
          ? 'could be several people.'
          : one.candidates.length
            ? 'could be somebody of the team.'
            : 'fits nobody of the team.'
      }}
    </p>
    <p v-if="change" class="who">
      <button v-for="who in one.candidates" :key="who.person" @click="emit('settle', one.field, who.person)"
        >{{ who.name }} <span class="quiet">{{ who.mail }}</span></button
      >
      <PickOne
        aria-label="Somebody else"
        :items="named(people())"
        hint="somebody else …"
        @update:model-value="emit('settle', one.field, Number($event))"
      />
      <button @click="emit('settle', one.field, undefined)">Nobody of the team</button>
    </p>
  </div>
</template>

<style scoped>
.waiting {
  border-left: 3px solid var(--copper);
  background: var(--copper-soft);
  padding: 6px 10px;
  margin-bottom: var(--gap-3);
}
p {
  margin: 0;
}
.who {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 4px;
}
button {
  border: 1px solid var(--copper);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 3px 8px;
  cursor: pointer;
}
</style>
