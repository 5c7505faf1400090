<script setup lang="ts">
// What the pages of computed fields share: the field's name and help, and keeping or leaving it.
import { onMounted, ref } from 'vue'
import type { Table } from '@/api/types'

defineProps<{
  table: Table
  /** What it is: *a calculation*, *a new summary*. */
  what: string
  /** What pressing the first button does. */
  act: string
  /** Whether it can be kept as it stands. */
  ready: boolean
  keeping: boolean
  trouble: string
}>()
const name = defineModel<string>('name', { required: true })
const help = defineModel<string>('help', { required: true })
const emit = defineEmits<{ keep: []; leave: [] }>()

// One begins with what it is called; what is called already is gone on with.
const title = ref<HTMLInputElement>()
onMounted(() => !name.value && title.value?.focus())
</script>

<template>
  <section>
    <p class="over">{{ table.name }}, {{ what }}</p>
    <!-- eslint-disable-next-line vuejs-accessibility/heading-has-content -- what is typed in it is its content -->
    <h1
      ><input ref="title" v-model="name" class="name" aria-label="Name of the field" placeholder="Name of the field" data-test="name"
    /></h1>
    <slot />
    <label class="help">What it is, for those who look at it <input v-model="help" data-test="help" /></label>
    <p v-if="trouble" class="fault-text" role="alert" data-test="trouble">{{ trouble }}</p>
    <div class="acts">
      <v-btn color="primary" data-test="keep" :disabled="!ready || !name.trim()" :loading="keeping" @click="emit('keep')">{{ act }}</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave</v-btn>
      <span v-if="ready && !name.trim()" class="quiet" role="status">It is kept once it has a name.</span>
    </div>
  </section>
</template>

<style scoped>
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
h1 {
  margin: 0 0 var(--gap-3);
}
.name {
  font: inherit;
  width: 100%;
  border: 0;
  border-bottom: 1px solid transparent;
  background: none;
  padding: 0;
}
.name:hover,
.name:focus {
  border-bottom-color: var(--line-strong);
}
.help {
  display: block;
  margin-top: var(--gap-4);
  color: var(--quiet);
  font-size: 12.5px;
}
.help input {
  display: block;
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 5px 8px;
  font-size: 14px;
}
.acts {
  display: flex;
  gap: var(--gap-3);
  margin: var(--gap-4) 0;
}
</style>
