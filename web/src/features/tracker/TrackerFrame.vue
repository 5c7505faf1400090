<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { saying } from '@/api/client'
import { useVocabulary } from '@/features/condition/vocabulary'
import WhySlip from '@/features/why/WhySlip.vue'
import DoneLine from './DoneLine.vue'
import { useTracker } from './tracker'

const { closed, connected, tracker: currentTracker, leave: leaveTracker, open: openTracker } = useTracker()

// Its words are those of every page in it.
const { vocabulary } = useVocabulary()
const route = useRoute()
const trouble = ref('')
/** Pages that say what was done in a place of their own. */
const OWN = ['view', 'import']

watch(
  () => Number(route.params.tracker),
  async (id) => {
    if (!id) return
    trouble.value = ''
    await openTracker(id).catch((error) => (trouble.value = saying(error)))
  },
  { immediate: true },
)
onBeforeUnmount(leaveTracker)
</script>

<template>
  <p v-if="!connected" class="offline" role="status">No connection to the server. What you see may be old; what you type stays here.</p>
  <section v-if="closed || trouble" class="shut">
    <h1>{{ trouble ? 'This could not be read' : 'This tracker is not open to you' }}</h1>
    <p class="quiet">{{ trouble || 'There is no such tracker, or your role in it was taken back. Its steward can tell you more.' }}</p>
    <router-link to="/">To your trackers</router-link>
  </section>
  <template v-else-if="currentTracker && vocabulary">
    <router-view />
    <DoneLine v-if="!OWN.includes(String(route.name))" />
    <WhySlip />
  </template>
  <div v-else class="skeleton" aria-hidden="true"><i /><i /><i /></div>
</template>

<style scoped>
.offline {
  margin: 0;
  padding: 6px var(--gap-5);
  background: var(--copper-soft);
  color: var(--ink);
  border-bottom: 1px solid var(--copper);
}
.shut {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 var(--gap-5);
}
.skeleton {
  padding: var(--gap-5);
  display: grid;
  gap: var(--gap-3);
}
.skeleton i {
  height: 20px;
  max-width: 420px;
  background: var(--line);
  border-radius: var(--corner);
}
.skeleton i:nth-child(2) {
  max-width: 760px;
}
.skeleton i:nth-child(3) {
  max-width: none;
  height: 300px;
  opacity: 0.5;
}
</style>
