<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { TrackerLine } from '@/api/types'

const trackers = ref<TrackerLine[]>()
const trouble = ref('')

onMounted(async () => {
  try {
    trackers.value = await told(api.GET('/api/trackers'))
  } catch (error) {
    trouble.value = saying(error)
  }
})

const areas = computed(() => {
  const byArea = new Map<string, TrackerLine[]>()
  for (const tracker of trackers.value ?? []) byArea.set(tracker.area, [...(byArea.get(tracker.area) ?? []), tracker])
  return [...byArea]
})
</script>

<template>
  <section class="home">
    <h1>Your trackers</h1>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-else-if="trackers && !trackers.length" class="quiet">
      No tracker is open to you yet. Ask the person who runs it to give you a role in it.
    </p>
    <div v-for="[area, lines] in areas" :key="area" class="area">
      <h2>{{ area }}</h2>
      <p v-for="line in lines" :key="line.id" class="line">
        <router-link :to="{ name: 'tracker', params: { tracker: line.id } }">{{ line.name }}</router-link>
        <span>{{ line.description }}</span>
        <span class="quiet">{{ line.holds }}.</span>
      </p>
    </div>
  </section>
</template>

<style scoped>
.home {
  max-width: 760px;
  margin: 0 auto;
  padding: 48px var(--gap-5);
}
h1 {
  font-size: 30px;
}
.area {
  margin-top: var(--gap-6);
}
h2 {
  font-size: 15px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line);
  padding-bottom: var(--gap-1);
}
.line {
  display: grid;
  margin: var(--gap-3) 0;
  font: 16px/1.5 var(--serif);
}
.line a {
  font-size: 20px;
  font-weight: 600;
}
</style>
