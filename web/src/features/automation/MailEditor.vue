<script setup lang="ts">
// A mail step: to whom, its heading and its text, with fields in braces.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { components } from '@/api/schema'
import type { Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { recipients } from './recipients'
import { selectAll } from '@/features/condition/selectAll'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

type MailText = components['schemas']['MailText']

const props = defineProps<{ table: Table; step: MailText; place: number; problem?: Problem; readonly: boolean }>()
const emit = defineEmits<{ keep: [step: MailText]; leave: [] }>()

const draft = ref<MailText>(JSON.parse(JSON.stringify(props.step)) as MailText)
const all = computed(() => (currentTracker.value ? paths(currentTracker.value, props.table) : []))
const known = computed(() => (currentTracker.value ? recipients(currentTracker.value, props.table) : []))
const to = computed(() => ('field' in draft.value.to ? draft.value.to.field.join('.') : ''))

function setTo(key: string | null) {
  const chosen = known.value.find((p) => p.key === key)
  if (chosen) draft.value.to = { field: chosen.path }
}

function insert(key: string | null) {
  const chosen = all.value.find((p) => p.key === key)
  if (chosen) draft.value.body += `{${chosen.name.split(' → ').join('.')}}`
}
const fault = (part: string) => props.problem?.at(`/steps/${props.place}/${part}`)
</script>

<template>
  <div class="mail">
    <p class="label" aria-hidden="true">To</p>
    <v-autocomplete
      :model-value="to"
      :items="known"
      item-value="key"
      item-title="name"
      aria-label="To"
      @focus="selectAll"
      @update:model-value="setTo"
    />
    <p class="label" aria-hidden="true">Heading</p>
    <v-text-field v-model="draft.subject" aria-label="Heading" :error-messages="fault('subject')" data-test="mail-subject" />
    <p class="label" aria-hidden="true">Text</p>
    <v-textarea v-model="draft.body" aria-label="Text" rows="8" :error-messages="fault('body')" />
    <p class="label" aria-hidden="true">Put a value in</p>
    <v-autocomplete
      :model-value="null"
      :items="all"
      item-value="key"
      item-title="name"
      aria-label="Put a value in"
      @focus="selectAll"
      @update:model-value="insert"
    />
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn color="primary" :disabled="readonly" data-test="keep-mail" @click="emit('keep', draft)">Change the mail</v-btn>
    </div>
  </div>
</template>

<style scoped>
.mail {
  display: grid;
  gap: var(--gap-3);
  width: min(520px, 90vw);
}
.label {
  margin: 0 0 -8px;
  color: var(--quiet);
  font-size: 12.5px;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
