<script setup lang="ts">
// What another state of a role would do, person by person, before it holds.
import { onMounted, ref } from 'vue'
import type { AccessRehearsal, Carry } from '@/api/types'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useTracker } from '@/features/tracker/tracker'
import WhoMoves from './WhoMoves.vue'

defineProps<{ title: string; told: AccessRehearsal; busy: boolean; trouble: string }>()
const emit = defineEmits<{ act: []; leave: []; carry: [carry: Carry] }>()
const { tracker } = useTracker()
const tableName = (id: number) => tracker.value?.tables.find((table) => table.id === id)?.name ?? ''

const panel = ref<HTMLElement>()
onMounted(() => panel.value?.querySelector<HTMLElement>('.v-btn')?.focus())
</script>

<template>
  <div ref="panel" class="panel">
    <RehearsalPanel :title="title" act="Do it" :busy="busy" :trouble="trouble" @act="emit('act')" @leave="emit('leave')">
      <p class="says">{{ told.says.join(' ') }}</p>
      <p v-for="carry in told.carries" :key="carry.table" class="says" data-test="carry"
        >{{ carry.says }} <button type="button" class="link" :disabled="busy" @click="emit('carry', carry)">Carry it there too</button></p
      >
      <WhoMoves :people="told.people" :name="tableName" />
    </RehearsalPanel>
  </div>
</template>

<style scoped>
.panel {
  position: sticky;
  bottom: 0;
  /* Over the line that says what was done. */
  z-index: 7;
  max-height: 70dvh;
  overflow-y: auto;
  margin: var(--gap-4) calc(-1 * var(--gap-5)) -60px;
}
.says {
  font: 17px/1.5 var(--serif);
  margin: 0 0 var(--gap-2);
}
</style>
