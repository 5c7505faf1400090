<script setup lang="ts">
// All keys in one panel, looked through by words.
import { computed, nextTick, ref, watch } from 'vue'
import { asHere, keysWith } from './keys'

const open = defineModel<boolean>({ required: true })
const words = ref('')
const groups = computed(() => keysWith(words.value))
const field = ref<HTMLInputElement>()
watch(open, async (now) => {
  if (!now) return
  words.value = ''
  await nextTick()
  field.value?.focus()
})
const here = (key: string) => asHere(key, navigator.platform)
</script>

<template>
  <v-dialog v-model="open" max-width="860" aria-label="Keys" scrollable>
    <div class="panel" data-test="keys-panel">
      <div class="top">
        <h2>Keys</h2>
        <input
          ref="field"
          v-model="words"
          type="search"
          class="boxed"
          placeholder="what to do"
          aria-label="Find a key"
          data-test="keys-words"
        />
        <button type="button" class="link" @click="open = false">Close</button>
      </div>
      <div class="groups" role="status" aria-live="polite">
        <section v-for="group in groups" :key="group.where">
          <h3>{{ group.where }}</h3>
          <dl>
            <div v-for="one in group.keys" :key="one.does">
              <dt>{{ one.does }}</dt>
              <dd
                ><kbd v-for="key in one.keys" :key="key">{{ here(key) }}</kbd></dd
              >
            </div>
          </dl>
        </section>
        <p v-if="!groups.length" class="quiet">No key does that.</p>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.panel {
  max-height: 82dvh;
  overflow-y: auto;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-4) var(--gap-5);
}
.top {
  display: flex;
  gap: var(--gap-4);
  align-items: baseline;
  border-bottom: 2px solid var(--ink);
  padding-bottom: var(--gap-2);
}
.top input {
  flex: 1;
  min-width: 0;
  padding: 4px 8px;
}
.groups {
  columns: 2 330px;
  column-gap: 40px;
  padding-top: var(--gap-3);
}
section {
  break-inside: avoid;
  margin-bottom: var(--gap-4);
}
h3 {
  font: 600 16px var(--serif);
}
dl {
  margin: 4px 0 0;
}
dl > div {
  display: flex;
  gap: var(--gap-3);
  justify-content: space-between;
  align-items: baseline;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
dd {
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 4px;
}
kbd {
  font: 12px var(--sans);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--stone);
  padding: 1px 6px;
  white-space: nowrap;
}
</style>
