<script setup lang="ts">
// What stands on a button, and which automation it runs.
import PickOne from '@/features/menu/PickOne.vue'
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Kind } from '@/api/types'
import { useAsked } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ kind: Kind & { type: 'button' }; table: number }>()
const emit = defineEmits<{ put: [change: object] }>()

const { told: automations, trouble } = useAsked(
  () => ['automations', currentTracker.value?.id],
  () => told(api.GET('/api/trackers/{tracker}/automations', { params: { path: { tracker: currentTracker.value!.id } } })),
)
const fitting = computed(() =>
  (automations.value ?? []).map((a) => a.automation).filter((a) => a.table === props.table && a.when === 'pressed'),
)
</script>

<template>
  <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  <label
    >On it stands
    <input :value="kind.label" data-test="button-label" @input="emit('put', { label: ($event.target as HTMLInputElement).value })"
  /></label>
  <label>
    Pressing it runs
    <PickOne
      :model-value="kind.automation ?? ''"
      data-test="button-automation"
      :items="[
        { value: '', title: 'nothing yet' },
        ...fitting.map((one) => ({ value: one.id, title: `${one.name}${one.on ? '' : ' (off)'}` })),
      ]"
      @update:model-value="emit('put', { automation: Number($event) || null })"
    />
  </label>
  <p v-if="!fitting.length" class="quiet">
    No automation of this table begins by pressing.
    <router-link v-if="currentTracker" :to="{ name: 'automations', params: { tracker: currentTracker.id }, query: { table, by: 'button' } }"
      >Make one</router-link
    >
  </p>
</template>

<style scoped>
p {
  margin: 0;
}
</style>
