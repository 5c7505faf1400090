<script setup lang="ts">
import BandTop from './BandTop.vue'
import { useSession } from '@/features/session/session'
import { provideTracker } from '@/features/tracker/tracker'

provideTracker()

const { me } = useSession()
</script>

<template>
  <v-app>
    <BandTop v-if="me" />
    <main class="page">
      <router-view />
    </main>
  </v-app>
</template>

<style scoped>
.page {
  min-height: calc(100dvh - var(--band));
}
</style>
