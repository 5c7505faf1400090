<script setup lang="ts">
// Picking records by their names, searched as one types.
import { ref } from 'vue'
import type { RecordName } from '@/api/types'
import { useNames } from './names'

const props = defineProps<{
  id: string
  field: number
  label: string
  many: boolean
  required: boolean
  faulty: boolean
  described?: string
}>()
const links = defineModel<RecordName[]>({ required: true })
const names = useNames()
const search = ref('')
const found = ref<RecordName[]>()
const at = ref(0)
let round = 0

async function look() {
  const mine = ++round
  const fresh = await names(props.field, search.value)
  if (mine !== round) return
  found.value = fresh
  at.value = 0
}

function take(name: RecordName) {
  links.value = props.many ? [...links.value.filter((l) => l.id !== name.id), name] : [name]
  search.value = ''
  found.value = undefined
}

function keys(event: KeyboardEvent) {
  const offered = found.value ?? []
  if (event.key === 'ArrowDown') at.value = Math.min(offered.length - 1, at.value + 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (event.key === 'Enter' && offered[at.value]) take(offered[at.value]!)
  else if (event.key === 'Enter') void 0
  else if (event.key === 'Escape') found.value = undefined
  else return
  event.preventDefault()
}

function leave() {
  round++
  found.value = undefined
}
</script>

<template>
  <div class="link">
    <p v-for="name in links" :key="name.id" class="taken">
      {{ name.name }}
      <button type="button" :aria-label="`Take out ${name.name}`" @click="links = links.filter((l) => l.id !== name.id)">×</button>
    </p>
    <input
      v-if="many || !links.length"
      :id="id"
      v-model="search"
      role="combobox"
      :aria-label="label"
      :aria-expanded="!!found"
      :aria-controls="`${id}-list`"
      :aria-activedescendant="found?.[at] && `${id}-${found[at]?.id}`"
      aria-autocomplete="list"
      autocomplete="off"
      :aria-invalid="faulty"
      :aria-describedby="described"
      :aria-required="required"
      @focus="look"
      @input="look"
      @keydown="keys"
      @blur="leave"
    />
    <ul v-if="found" :id="`${id}-list`" role="listbox" :aria-label="label">
      <li
        v-for="(name, place) in found"
        :id="`${id}-${name.id}`"
        :key="name.id"
        role="option"
        :aria-selected="place === at"
        :class="{ at: place === at }"
        @mousedown.prevent="take(name)"
        >{{ name.name }}</li
      >
      <li v-if="!found.length" class="none">Nothing is called like that.</li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 2px 0 0;
  padding: 0;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  max-height: 260px;
  overflow-y: auto;
}
li {
  padding: 11px 12px;
  font-size: 16px;
  cursor: pointer;
}
li.at {
  background: var(--moss-soft);
}
.none {
  color: var(--quiet);
  cursor: default;
}
</style>
