<script setup lang="ts">
// A table in which nothing stands yet: what it is for, and the ways to begin.
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Table } from '@/api/types'
import { usePasted } from '@/features/import/pasted'

const props = defineProps<{ table: Table; tracker: number }>()
const emit = defineEmits<{ add: [] }>()

const router = useRouter()
const pasted = usePasted()
const lines = ref('')

function see() {
  if (!lines.value.trim()) return
  pasted.put(lines.value)
  void router.push({ name: 'import', params: { tracker: props.tracker }, query: { into: props.table.id } })
}
</script>

<template>
  <section class="empty" aria-label="Nothing stands here yet" data-test="empty-table">
    <h2>There are no {{ table.many }} yet.</h2>
    <p class="says"
      >Write one {{ table.one }} down as you would tell it over the telephone, its pieces parted by commas. Or paste lines from anywhere.
      You see what they become before anything is made.</p
    >
    <textarea
      v-model="lines"
      rows="4"
      :aria-label="`One ${table.one} to a line`"
      placeholder="WP-0114, Esker Ridge to Hob Gate, oak, 14 May 2019"
      data-test="told-lines"
      @keydown.ctrl.enter.prevent="see"
      @keydown.meta.enter.prevent="see"
    />
    <p class="ways">
      <v-btn color="primary" :disabled="!lines.trim()" data-test="see-lines" @click="see">See what they become</v-btn>
      <v-btn variant="text" @click="emit('add')">Add one by hand</v-btn>
      <router-link :to="{ name: 'import', params: { tracker }, query: { into: table.id } }">From a file</router-link>
    </p>
  </section>
</template>

<style scoped>
.empty {
  max-width: 720px;
  padding: var(--gap-5) 0;
}
h2 {
  font-size: 20px;
}
.says {
  color: var(--quiet);
  font: 17px/1.55 var(--serif);
}
textarea {
  width: 100%;
  padding: 8px 12px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  font: 17px/1.6 var(--serif);
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
}
</style>
