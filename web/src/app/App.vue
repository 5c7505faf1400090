<script setup lang="ts">
import BandTop from './BandTop.vue'
import { useSession } from '@/features/session/session'
import { provideTracker } from '@/features/tracker/tracker'

provideTracker()

const { me } = useSession()

/** To the rows, where there are any; else to the page. */
function past() {
  const to = document.querySelector<HTMLElement>('[data-test=grid]') ?? document.querySelector<HTMLElement>('main.page')
  to?.focus()
}
</script>

<template>
  <v-app>
    <a class="skip" href="#page" @click.prevent="past">Past the band, to the page</a>
    <BandTop v-if="me" />
    <main id="page" class="page" tabindex="-1">
      <router-view />
    </main>
  </v-app>
</template>

<style scoped>
.skip {
  position: absolute;
  left: -9999px;
  z-index: 9;
}
.skip:focus {
  left: 8px;
  top: 8px;
  padding: 8px 14px;
  background: var(--sheet);
  border: 2px solid var(--moss);
  border-radius: var(--corner);
}
.page {
  outline: 0;
  min-height: calc(100dvh - var(--band));
}
</style>
