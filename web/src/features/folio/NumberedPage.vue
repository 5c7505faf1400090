<script setup lang="ts">
// A record by its number, as it stands on paper: to its own page, if it is there and open.
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import { useDoing } from '@/app/asking'

const route = useRoute()
const router = useRouter()
const { attempt, trouble } = useDoing()
const number = ref('')
watch(
  () => route.params.number,
  async (now) => {
    if (route.name !== 'numbered') return
    number.value = String(now)
    const tracker = Number(route.params.tracker)
    const params = { path: { tracker }, query: { number: number.value } }
    const found = await attempt(() => told(api.GET('/api/trackers/{tracker}/numbered', { params })))
    if (found) await router.replace({ name: 'record', params: { tracker, table: found.table, record: found.record } })
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="trouble" class="gone">
    <h1>{{ number }}</h1>
    <p class="quiet" role="alert">{{ trouble }}</p>
    <router-link :to="{ name: 'find', params: { tracker: route.params.tracker }, query: { words: number } }">Look for it</router-link>
  </div>
</template>

<style scoped>
.gone {
  padding: var(--gap-6) var(--gap-5);
}
</style>
