<script setup lang="ts">
// Every function, to be found by typing; pressing one puts it in.
import { computed, ref } from 'vue'
import type { FunctionHelp } from '@/api/types'

const props = defineProps<{ functions: FunctionHelp[] }>()
const emit = defineEmits<{ put: [name: string] }>()
const typed = ref('')

const groups = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  const found = props.functions.filter((f) => !wanted || f.name.toLowerCase().includes(wanted) || f.help.toLowerCase().includes(wanted))
  return [...new Set(found.map((f) => f.group))].map((group) => ({ group, functions: found.filter((f) => f.group === group) }))
})

/** The one that Tab comes to: the list is one stop, walked through by the arrows. */
const at = ref('')
const stop = computed(() => {
  const all = groups.value.flatMap((one) => one.functions)
  return (all.find((f) => f.name === at.value) ?? all[0])?.name
})
const list = ref<HTMLElement>()

function walk(event: KeyboardEvent) {
  const all = [...(list.value?.querySelectorAll<HTMLButtonElement>('button') ?? [])]
  const here = all.indexOf(document.activeElement as HTMLButtonElement)
  const to = { ArrowDown: here + 1, ArrowUp: here - 1, Home: 0, End: all.length - 1 }[event.key]
  if (to === undefined || !all[to]) return
  event.preventDefault()
  all[to].focus()
}
</script>

<template>
  <section class="functions" aria-label="Functions">
    <input v-model="typed" type="search" placeholder="Find a function: round, days between, join …" aria-label="Find a function" />
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- its buttons take the keys -->
    <div ref="list" class="list" @keydown="walk">
      <template v-for="one in groups" :key="one.group">
        <h4>{{ one.group }}</h4>
        <button
          v-for="f in one.functions"
          :key="f.name"
          type="button"
          :tabindex="f.name === stop ? 0 : -1"
          @focus="at = f.name"
          @click="emit('put', `${f.name}(`)"
        >
          <b>{{ f.signature }}</b> <span class="quiet">{{ f.help }}</span>
          <span class="example">{{ f.example }} is {{ f.gives }}</span>
        </button>
      </template>
      <p v-if="!groups.length" class="quiet">No function does that by name. Try a shorter word.</p>
    </div>
  </section>
</template>

<style scoped>
input {
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 8px;
}
.list {
  max-height: 260px;
  overflow-y: auto;
  margin-top: 6px;
}
h4 {
  font: 600 13px var(--sans);
  color: var(--quiet);
  margin: 8px 0 2px;
}
button {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  padding: 5px 2px;
  cursor: pointer;
  font-size: 13px;
}
button:hover {
  background: var(--moss-soft);
}
.example {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
</style>
