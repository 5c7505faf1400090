<script setup lang="ts">
// A record at its own address.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { usePresence } from '@/features/tracker/presence'
import { useTracker } from '@/features/tracker/tracker'
import FolioPanel from './FolioPanel.vue'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const tracker = computed(() => Number(route.params.tracker))
const record = computed(() => Number(route.params.record))
usePresence(
  () => tracker.value,
  () => ({ table: Number(route.params.table), record: record.value }),
)
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === Number(route.params.table)))
</script>

<template>
  <FolioPanel v-if="table" :key="`${table.id}/${record}`" :tracker="tracker" :table="table" :record="record" whole />
  <div v-else class="gone">
    <h1>There is no such record</h1>
    <p class="quiet">It may have been put into the bin, or it is not open to you.</p>
  </div>
</template>

<style scoped>
.gone {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 var(--gap-5);
}
</style>
