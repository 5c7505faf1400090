<script setup lang="ts">
// A highlight taken elsewhere: to other fields of its table, to another table, to another tracker. What stands for what is asked, and
// what it would touch there is told; it is kept there by whoever looks at it first.
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { HighlightCopy, HighlightView, Table } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'
import { takeOver } from './drafting'

const props = defineProps<{ one: HighlightView; table: Table }>()
const emit = defineEmits<{ leave: [] }>()
const { tracker: currentTracker } = useTracker()
const router = useRouter()
const { trouble, newest } = useDoing()

const here = computed(() => currentTracker.value?.id ?? 0)
const trackerId = ref(here.value)
const tableId = ref(props.table.id)
const trackers = useAsked(['trackers'], () => told(api.GET('/api/trackers')))
const tables = useAsked(
  () => ['tables of', trackerId.value],
  () => told(api.GET('/api/trackers/{tracker}', { params: { path: { tracker: trackerId.value } } })),
)
const others = computed(() => trackers.told.value ?? [])
const tablesThere = computed(() => tables.told.value?.tables ?? [])
watch(tablesThere, (now) => {
  if (now.length && !now.some((one) => one.id === tableId.value)) tableId.value = now[0]!.id
})

const chosen = ref<Record<number, number>>({})
watch([trackerId, tableId], () => (chosen.value = {}))
const plan = ref<HighlightCopy>()
watch(
  [trackerId, tableId, chosen],
  async () => {
    const params = { path: { tracker: here.value, highlight: props.one.highlight.id } }
    const fields = Object.entries(chosen.value).map(([field, becomes]) => ({ field: Number(field), becomes }))
    const body = { tracker: trackerId.value, table: tableId.value, fields }
    plan.value = (await newest(() => told(api.POST('/api/trackers/{tracker}/highlights/{highlight}/copy', { params, body })))) ?? undefined
  },
  { immediate: true, deep: true },
)
const missing = computed(() => plan.value?.asks.filter((ask) => ask.becomes == null) ?? [])
const nothing = computed(() => !plan.value?.touches.length)

async function take() {
  const now = plan.value
  if (!now) return
  takeOver({ condition: now.condition, touches: now.touches })
  emit('leave')
  await router.push({ name: 'highlights', params: { tracker: trackerId.value, table: tableId.value }, query: { begin: 'taken' } })
}
</script>

<template>
  <form class="copy" data-test="copy-highlight" @submit.prevent="take">
    <h3>Take highlight {{ one.number }} along</h3>
    <p>
      to
      <PickOne
        v-model="tableId"
        said
        aria-label="The table"
        data-test="copy-table"
        :items="tablesThere.map((other) => ({ value: other.id, title: other.name }))"
      />
      <template v-if="others.length > 1">
        of
        <PickOne
          v-model="trackerId"
          said
          aria-label="The tracker"
          data-test="copy-tracker"
          :items="others.map((other) => ({ value: other.id, title: other.name }))"
        />
      </template>
    </p>
    <template v-if="plan">
      <p v-for="ask in plan.asks" :key="ask.field" class="ask">
        <span>{{ ask.name }} there is</span>
        <PickOne
          said
          :model-value="ask.becomes ?? null"
          :aria-label="`What stands for ${ask.name}`"
          :data-test="`copy-field-${ask.name}`"
          :items="[
            ...(ask.becomes == null ? [{ value: null, title: ask.fits.length ? 'nothing yet' : 'nothing that fits' }] : []),
            ...ask.fits.map((fit) => ({ value: fit.field, title: fit.name })),
          ]"
          @update:model-value="chosen = { ...chosen, [ask.field]: Number($event) }"
        />
      </p>
      <p v-for="left in plan.left" :key="left" class="left">{{ left }}</p>
      <p v-if="missing.length" class="quiet">What nothing stands for is left out there.</p>
      <p class="becomes"
        >{{
          plan.words.sentence
            .filter((phrase) => phrase.tone !== 'offer')
            .map((phrase) => phrase.text)
            .join('')
        }}
        <span class="quiet">{{ plan.words.matching }} there now.</span></p
      >
    </template>
    <p v-if="trouble || tables.trouble.value" class="fault-text" role="alert">{{ trouble || tables.trouble.value }}</p>
    <p class="acts">
      <v-btn color="primary" type="submit" :disabled="!plan || nothing" data-test="take-highlight">Look at it there</v-btn>
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
    </p>
    <p class="quiet small">Nothing is kept before you keep it there.</p>
  </form>
</template>

<style scoped>
.copy {
  padding: var(--gap-4);
  max-width: 520px;
  font: 16px/1.6 var(--serif);
}
h3 {
  font: 600 18px var(--serif);
  margin: 0 0 var(--gap-2);
}
p {
  margin: 0 0 4px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-2);
  align-items: baseline;
}
.left {
  color: var(--copper);
}
.becomes {
  border-top: 1px solid var(--line);
  margin-top: var(--gap-2);
  padding-top: var(--gap-2);
}
.acts {
  display: flex;
  gap: var(--gap-2);
  margin-top: var(--gap-3);
}
.small {
  font: 12.5px var(--sans);
}
</style>
