<script setup lang="ts">
// The dashboards that one may look at, and a way to begin one.
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'

defineProps<{ readonly: boolean }>()
const router = useRouter()
const { trouble, busy, attempt } = useDoing()
const boards = useAsked(
  () => ['dashboards'],
  () => told(api.GET('/api/dashboards')),
)
const naming = ref(false)
const name = ref('')

async function make() {
  const made = await attempt(() => told(api.POST('/api/dashboards', { body: { name: name.value } })))
  if (made?.id) await router.push({ name: 'dashboard', params: { dashboard: made.id } })
}
</script>

<template>
  <section v-if="boards.told.value && (boards.told.value.length || !readonly)" class="boards" aria-label="Dashboards">
    <h2>Dashboards</h2>
    <div>
      <p v-for="one in boards.told.value" :key="one.id">
        <router-link :to="{ name: 'dashboard', params: { dashboard: one.id } }" data-test="to-dashboard">{{ one.name }}</router-link>
        <span class="quiet">{{ one.about || one.open_says }}</span>
      </p>
      <p v-if="!readonly && !naming"
        ><button type="button" class="link" data-test="new-dashboard" @click="naming = true">Make a dashboard</button></p
      >
      <form v-else-if="naming" @submit.prevent="make">
        <v-text-field
          v-model="name"
          aria-label="What it shall be called"
          placeholder="What it shall be called"
          autofocus
          hide-details
          data-test="dashboard-name"
        />
        <v-btn color="primary" type="submit" :loading="busy" :disabled="!name.trim()" data-test="make-dashboard">Make it</v-btn>
        <v-btn variant="text" @click="naming = false">Leave it</v-btn>
      </form>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    </div>
  </section>
</template>

<style scoped>
.boards {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  padding: var(--gap-4) 0 var(--gap-2);
  border-bottom: 1px solid var(--line-strong);
}
h2 {
  margin: 0;
  font: 600 16px/1.4 var(--serif);
  color: var(--quiet);
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-3);
  margin: 0 0 var(--gap-2);
}
a {
  font: 600 16px/1.4 var(--serif);
}
form {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  max-width: 560px;
}
@media (max-width: 800px) {
  a {
    display: inline-flex;
    align-items: center;
    min-height: 40px;
  }
}
@media (max-width: 700px) {
  .boards {
    grid-template-columns: minmax(0, 1fr);
    gap: var(--gap-2);
  }
}
</style>
