<script setup lang="ts">
// What one chooses for oneself, at one's own name.
import { computed } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import type { Customs } from '@/api/types'
import { useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { dayText } from '@/features/cell/days'
import { figure, useOwn } from '@/theme/own'
import { CUSTOMS } from './customs'
import { useSession } from './session'

const own = useOwn()
const { me, writeLike } = useSession()
const doing = useDoing()
const queries = useQueryClient()
const customs = computed({
  get: () => me.value?.customs ?? 'en-GB',
  set: (chosen: Customs) => void choose(chosen),
})

async function choose(chosen: Customs) {
  await doing.attempt(async () => {
    await writeLike(chosen)
    // What is on the screen was written by the old ones.
    await queries.invalidateQueries()
  })
}
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
        v-model="customs"
        aria-label="Days and numbers"
        data-test="own-customs"
        :items="CUSTOMS"
        :disabled="!!me?.stands_in || doing.busy.value"
      />
    </p>
    <p class="quiet">{{ dayText('2026-11-18') }}, {{ figure(1234.5) }}</p>
    <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
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
