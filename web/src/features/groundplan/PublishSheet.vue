<script setup lang="ts">
// Publishing a tracker as a template of the team.
import PickOne from '@/features/menu/PickOne.vue'
import { ref } from 'vue'
import { api, told } from '@/api/client'
import type { Tracker } from '@/api/types'
import { useDoing } from '@/app/asking'
import { ICONS } from '@/app/icons'

const props = defineProps<{ tracker: Tracker }>()
const emit = defineEmits<{ close: [] }>()
const title = ref(props.tracker.name)
const description = ref(props.tracker.description)
const icon = ref(props.tracker.icon || 'list')
const records = ref(false)
const done = ref(false)
const { trouble, busy, attempt } = useDoing()

const publish = () =>
  attempt(async () => {
    const body = {
      title: title.value,
      description: description.value,
      icon: icon.value,
      hue: props.tracker.hue ?? null,
      records: records.value,
    }
    await told(api.POST('/api/trackers/{tracker}/template', { params: { path: { tracker: props.tracker.id } }, body }))
    done.value = true
  })
</script>

<template>
  <section class="sheet" aria-label="Publish as a template" data-test="publish-sheet">
    <template v-if="done">
      <p
        >“{{ title }}” is published. Everybody of the team can start a tracker from it.
        <router-link :to="{ name: 'start' }">To the templates</router-link></p
      >
      <v-btn variant="text" size="small" @click="emit('close')">Close</v-btn>
    </template>
    <template v-else>
      <h2>Publish as a template</h2>
      <p class="quiet"
        >Everybody of the team can begin a tracker from it: tables, views, forms, automations and roles, without the people in them.</p
      >
      <label>Title <input v-model="title" data-test="template-title" /></label>
      <label>What it is for <input v-model="description" /></label>
      <label>Sign <PickOne v-model="icon" :items="Object.keys(ICONS).map((key) => ({ value: key, title: key }))" /></label>
      <label v-if="tracker.steward" class="check"
        ><input v-model="records" type="checkbox" data-test="template-records" /> with its
        {{ tracker.tables.reduce((sum, t) => sum + t.count, 0).toLocaleString() }} records: whoever uses it sees them</label
      >
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <v-btn color="primary" size="small" :loading="busy" :disabled="!title.trim()" data-test="publish-yes" @click="publish"
        >Publish it</v-btn
      >
      <v-btn variant="text" size="small" @click="emit('close')">Leave it</v-btn>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  max-width: 560px;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  border-radius: var(--corner);
  padding: var(--gap-4);
  margin: var(--gap-3) 0;
}
label {
  display: block;
  margin: 6px 0;
  color: var(--quiet);
  font-size: 13px;
}
input:not([type='checkbox']) {
  display: block;
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 5px 8px;
}
.check {
  color: var(--ink);
}
</style>
