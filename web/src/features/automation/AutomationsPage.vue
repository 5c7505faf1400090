<script setup lang="ts">
// The tracker's automations, each read as a paragraph beside what it did.
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import { useSession } from '@/features/session/session'
import NewAutomation from './NewAutomation.vue'
import AutomationParagraph from './AutomationParagraph.vue'
import TextsList from './TextsList.vue'

const route = useRoute()
const tracker = computed(() => Number(route.params.tracker))
const asked = useAsked(
  () => ['automations', tracker.value],
  () => told(api.GET('/api/trackers/{tracker}/automations', { params: { path: { tracker: tracker.value } } })),
  () => true,
)
const { told: automations, trouble } = asked
const { me } = useSession()
const making = ref(!!route.query.table)
async function made() {
  making.value = false
  await asked.again()
}
</script>

<template>
  <section class="automations">
    <header>
      <h1>Automations</h1>
      <v-btn v-if="automations && !making" variant="text" color="primary" data-test="begin-automation" @click="making = true"
        >New automation</v-btn
      >
    </header>
    <NewAutomation
      v-if="making"
      :tracker="tracker"
      :table="Number(route.query.table) || undefined"
      :field="Number(route.query.field) || undefined"
      :pressed="route.query.by === 'button'"
      @made="made"
      @leave="making = false"
    />
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="automations && !automations.length" class="quiet">Nothing is done by itself in this tracker yet.</p>
    <AutomationParagraph
      v-for="one in automations"
      :key="one.automation.id"
      :tracker="tracker"
      :one="one"
      :only="route.query.state === 'failed' ? 'failed' : undefined"
      @changed="asked.again()"
    />
    <TextsList v-if="automations" :tracker="tracker" :readonly="!!me?.stands_in" />
  </section>
</template>

<style scoped>
.automations {
  padding: var(--gap-4) var(--gap-5) 60px;
  max-width: 1240px;
  margin: 0 auto;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
h1 {
  font-size: 27px;
}
</style>
