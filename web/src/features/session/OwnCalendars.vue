<script setup lang="ts">
// The live addresses at which other calendars look as one: which there are, and ending them.
import { useCalendars } from '@/features/export/calendars'

defineProps<{ readonly: boolean }>()
const { lines, doing, withdraw } = useCalendars()
</script>

<template>
  <section v-if="lines?.length" aria-label="Your live calendars" data-test="own-calendars">
    <h2>Your live calendars</h2>
    <p v-for="line in lines" :key="line.number" class="session" data-test="own-calendar">
      <router-link v-if="line.table" :to="{ name: 'view', params: { tracker: line.tracker, table: line.table, view: line.view } }"
        >{{ line.view_name }} <span class="quiet">{{ line.tracker_name }}</span></router-link
      >
      <span v-else>A calendar that is not open to you any more</span>
      <span class="quiet">made {{ line.made }}, {{ line.looked ? `last looked at ${line.looked}` : 'nobody has looked yet' }}</span>
      <button v-if="!readonly" type="button" class="link" @click="withdraw(line)">Withdraw it</button>
    </p>
    <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
  </section>
</template>

<style scoped src="./own-list.css"></style>
