<script setup lang="ts">
// The first sentence of a new automation. It begins switched off, and the rest is said in its paragraph.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, onMounted, ref, watch } from 'vue'
import type { AutomationBody } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'
import { occasionOf, occasions } from './occasions'
import { recipients } from './recipients'

const { tracker: currentTracker } = useTracker()
const { vocabulary } = useVocabulary()

const props = defineProps<{ tracker: number; table?: number }>()
const emit = defineEmits<{ made: []; leave: [] }>()

const parts = useParts(() => props.tracker)
const { trouble, attempt } = useDoing()
const name = ref('')
const table = ref(props.table ?? currentTracker.value?.tables[0]?.id ?? 0)
const when = ref(props.table ? 'pressed' : 'added')
const to = ref('')
const subject = ref('')
const text = ref('')
const home = computed(() => currentTracker.value?.tables.find((t) => t.id === table.value))
const forms = computed(() => currentTracker.value?.forms.filter((form) => form.table === table.value) ?? [])
const readers = computed(() => (currentTracker.value && home.value ? recipients(currentTracker.value, home.value) : []))
/** Another address than the record’s. */
const address = ref('')
// Somebody of the record is meant as a rule.
watch(readers, (now) => (to.value = now[0]?.key ?? ''), { immediate: true })

const sentence = ref<HTMLFormElement>()
// The first of a list's boxes is one that nobody sees.
onMounted(() => sentence.value?.querySelector<HTMLElement>('input[role=combobox]')?.focus())

async function make() {
  const reader = readers.value.find((one) => one.key === to.value)
  const steps: AutomationBody['steps'] = [
    { to: reader ? { field: reader.path } : { address: address.value.trim() }, subject: subject.value, body: text.value },
  ]
  const body: AutomationBody = {
    table: table.value,
    name: name.value,
    on: false,
    when: occasionOf(when.value),
    condition: { all: [] },
    steps,
  }
  if (await attempt(() => parts.make({ automation: body }))) emit('made')
}
</script>

<template>
  <form ref="sentence" class="new" aria-label="A new automation" data-test="new-automation" @submit.prevent="make">
    <p>
      When a
      <PickOne
        v-model="table"
        said
        aria-label="Table"
        :items="(currentTracker?.tables ?? []).map((one) => ({ value: one.id, title: one.one }))"
      />
      <PickOne v-model="when" said aria-label="What sets it going" data-test="new-when" :items="occasions(vocabulary, forms)" />
    </p>
    <p>
      then send a mail to
      <PickOne
        v-model="to"
        said
        aria-label="Reader"
        data-test="new-to"
        :items="[...readers.map((one) => ({ value: one.key, title: one.name })), { value: '', title: 'another address' }]"
      />
      <input v-if="!to" v-model="address" type="email" placeholder="address" aria-label="Address" />, headed
      <input v-model="subject" aria-label="Subject" placeholder="what it is about" data-test="new-subject" />.
    </p>
    <textarea v-model="text" rows="3" aria-label="Text of the mail" placeholder="The text; values go in as {Field}" data-test="new-text" />
    <p class="acts">
      <input v-model="name" placeholder="Name of the automation" aria-label="Name" data-test="new-name" />
      <v-btn color="primary" type="submit" :disabled="!name.trim()" data-test="make-automation">Make it, switched off</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </form>
</template>

<style scoped>
.new {
  border-top: 3px solid var(--copper);
  padding-top: var(--gap-3);
  max-width: 640px;
  font: 17px/1.7 var(--serif);
}
p {
  margin: 0 0 6px;
}
input,
textarea {
  font: 15px var(--sans);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 4px 6px;
}
textarea {
  width: 100%;
}
.acts {
  font: 14px var(--sans);
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  align-items: center;
}
</style>
