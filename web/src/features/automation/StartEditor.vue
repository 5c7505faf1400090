<script setup lang="ts">
// Which other automation is started with the record, once this one is done with it.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Problem } from '@/api/client'
import type { Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useTracker } from '@/features/tracker/tracker'
import StepShell from './StepShell.vue'

const props = defineProps<{ table: Table; automation: number; at: string; problem?: Problem; readonly: boolean }>()
const emit = defineEmits<{ keep: [automation: number]; leave: [] }>()
const { tracker } = useTracker()
const asked = useAsked(
  () => ['automations', tracker.value?.id],
  () => told(api.GET('/api/trackers/{tracker}/automations', { params: { path: { tracker: tracker.value?.id ?? 0 } } })),
)
/** Those that others start, of the same records. */
const offered = computed(() =>
  (asked.told.value ?? [])
    .filter(({ automation: one }) => one.table === props.table.id && one.when === 'started')
    .map(({ automation: one }) => ({ value: one.id, title: one.on ? one.name : `${one.name} (rests)` })),
)
const chosen = ref(props.automation || undefined)
</script>

<template>
  <StepShell
    :fault="problem?.at(`${at}/start`)"
    :blocked="readonly || chosen === undefined"
    test="keep-start"
    @keep="chosen !== undefined && emit('keep', chosen)"
    @leave="emit('leave')"
  >
    <p v-if="asked.told.value && !offered.length" class="lead" data-test="none-to-start"
      >There is none yet that others start for {{ table.many }}. Make a new automation, and choose “is handed on by another automation” in
      its first line.</p
    >
    <p v-else class="lead">
      Start
      <PickOne
        v-model="chosen"
        said
        hint="an automation"
        aria-label="Which automation is started"
        data-test="start-which"
        :items="offered"
      />
      with this {{ table.one }}
    </p>
  </StepShell>
</template>
