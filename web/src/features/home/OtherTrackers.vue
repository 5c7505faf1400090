<script setup lang="ts">
// The team’s owners know of every tracker, so that none is without somebody.
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'

const { told: others } = useAsked(['other-trackers'], () => told(api.GET('/api/trackers/others')))
</script>

<template>
  <details v-if="others?.length" class="others" data-test="others">
    <summary>Trackers of the team that you do not work in: {{ others.length }}</summary>
    <p v-for="line in others" :key="line.id">
      <b>{{ line.name }}</b>
      <span class="quiet">
        {{ line.size }}, {{ line.stewards.length ? `run by ${line.stewards.join(', ')}` : 'run by nobody any more'
        }}{{ line.last ? `, last looked at ${line.last}` : '' }}
      </span>
    </p>
  </details>
</template>

<style scoped>
.others {
  margin-top: var(--gap-4);
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 8px 0;
}
</style>
