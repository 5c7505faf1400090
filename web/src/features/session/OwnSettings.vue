<script setup lang="ts">
// What one chooses for oneself, at one's own name.
import PickOne from '@/features/menu/PickOne.vue'
import { dayText } from '@/features/cell/days'
import { figure, useOwn } from '@/theme/own'

const own = useOwn()
const CUSTOMS = [
  ['', 'as this browser does'],
  ['en-GB', 'as in Britain'],
  ['en-US', 'as in America'],
  ['en-IE', 'as in Ireland'],
  ['de-DE', 'as in Germany'],
  ['fr-FR', 'as in France'],
  ['nl-NL', 'as in the Netherlands'],
  ['sv-SE', 'as in Sweden'],
] as const
</script>

<template>
  <div class="own">
    <p>
      <span id="own-light">Light or dark</span>
      <PickOne
        v-model="own.light"
        aria-label="Light or dark"
        data-test="own-light"
        :items="[
          { value: 'system', title: 'as the system' },
          { value: 'light', title: 'light' },
          { value: 'dark', title: 'dark' },
        ]"
      />
    </p>
    <p>
      <span>Days and numbers</span>
      <PickOne
        v-model="own.locale"
        aria-label="Days and numbers"
        data-test="own-locale"
        :items="CUSTOMS.map(([value, title]) => ({ value, title }))"
      />
    </p>
    <p class="quiet">{{ dayText('2026-11-18') }}, {{ figure(1234.5) }}</p>
    <p>
      <span>Weeks begin on</span>
      <PickOne
        v-model="own.week"
        aria-label="Weeks begin on"
        data-test="own-week"
        :items="[
          { value: 1, title: 'Monday' },
          { value: 0, title: 'Sunday' },
          { value: 6, title: 'Saturday' },
        ]"
      />
    </p>
  </div>
</template>

<style scoped>
.own {
  margin-top: var(--gap-3);
  padding-top: var(--gap-2);
  border-top: 1px solid var(--line);
}
.own p {
  display: flex;
  gap: var(--gap-3);
  align-items: center;
  justify-content: space-between;
  margin: 0 0 4px;
}
</style>
