<script setup lang="ts">
// The options of a choice: names, colours, order; of a dependent choice, what each stands under.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { Choice, FieldDef } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'

const { hues, newOption } = useVocabulary()

const props = defineProps<{
  modelValue: Choice[]
  /** The options of the choice on which these depend. */
  grounds?: Choice[]
  /** Other choices of the table, on which these could depend. */
  others: FieldDef[]
  on?: number | null
}>()
const emit = defineEmits<{ 'update:modelValue': [options: Choice[]]; 'update:on': [field: number | null] }>()

const options = computed({ get: () => props.modelValue, set: (next) => emit('update:modelValue', next) })
const more = ref('')
const coloured = ref<number>()

function put(id: number, change: Partial<Choice>) {
  options.value = props.modelValue.map((o) => (o.id === id ? { ...o, ...change } : o))
  coloured.value = undefined
}

/** Several at once, from a typed or pasted list. */
function add() {
  let next = [...props.modelValue]
  for (const name of more.value.split(/[\n,;]/).map((n) => n.trim())) {
    if (name && !next.some((o) => o.name.toLowerCase() === name.toLowerCase())) {
      next = [...next, { ...newOption(next, name), under: props.grounds?.[0]?.id }]
    }
  }
  options.value = next
  more.value = ''
}

function move(place: number, by: number) {
  const next = [...props.modelValue]
  const [moved] = next.splice(place, 1)
  if (moved) next.splice(Math.max(0, place + by), 0, moved)
  options.value = next
}
</script>

<template>
  <div class="options" data-test="options">
    <VueDraggable v-model="options" handle=".grip" :animation="120">
      <div v-for="(option, place) in options" :key="option.id" class="option">
        <button
          type="button"
          class="grip"
          :aria-label="`Move ${option.name}; arrow keys move it`"
          @keydown.up.prevent="move(place, -1)"
          @keydown.down.prevent="move(place, 1)"
          >⋮</button
        >
        <button
          type="button"
          class="hue"
          :style="{ background: `var(--${option.hue})` }"
          :aria-label="`Colour of ${option.name}: ${option.hue}`"
          @click="coloured = coloured === option.id ? undefined : option.id"
        />
        <input
          :value="option.name"
          :aria-label="`Option ${place + 1}`"
          @input="put(option.id, { name: ($event.target as HTMLInputElement).value })"
        />
        <PickOne
          v-if="grounds"
          :model-value="option.under ?? ''"
          :aria-label="`${option.name} stands under`"
          :items="grounds.map((ground) => ({ value: ground.id, title: `under ${ground.name}` }))"
          @update:model-value="put(option.id, { under: Number($event) })"
        />
        <button
          type="button"
          class="drop"
          :aria-label="`Take out ${option.name}`"
          @click="options = modelValue.filter((o) => o.id !== option.id)"
          >×</button
        >
        <div v-if="coloured === option.id" class="hues">
          <button
            v-for="hue in hues"
            :key="hue"
            type="button"
            class="hue"
            :style="{ background: `var(--${hue})` }"
            :aria-label="hue"
            :title="hue"
            @click="put(option.id, { hue })"
          />
        </div>
      </div>
    </VueDraggable>
    <textarea
      v-model="more"
      rows="1"
      aria-label="More options"
      placeholder="Add options: one a line, or with commas"
      data-test="more-options"
      @keydown.enter.exact.prevent="add"
      @blur="add"
    />
    <label v-if="others.length" class="on">
      Its options depend on
      <PickOne
        :model-value="on ?? ''"
        data-test="depends-on"
        :items="[{ value: '', title: 'nothing' }, ...named(others)]"
        @update:model-value="emit('update:on', Number($event) || null)"
      />
    </label>
  </div>
</template>

<style scoped>
.option {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  padding: 2px 0;
}
.option input {
  flex: 1;
  min-width: 0;
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  padding: 3px 2px;
}
.grip {
  cursor: grab;
  border: 0;
  background: none;
  color: var(--quiet);
}
.hue {
  width: 14px;
  height: 18px;
  border: 0;
  border-radius: 2px;
  cursor: pointer;
}
.hues {
  flex-basis: 100%;
  display: flex;
  gap: 5px;
  padding: 2px 0 4px 22px;
}
.drop {
  border: 0;
  background: none;
  cursor: pointer;
  color: var(--quiet);
}
textarea {
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 8px;
  margin-top: 4px;
}
.on {
  display: block;
  margin-top: 6px;
  color: var(--quiet);
  font-size: 13px;
}
</style>
