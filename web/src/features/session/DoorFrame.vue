<script setup lang="ts">
// What stands before the door: the mark, whose door it is, and one thing to do.
defineProps<{ title: string; says?: string }>()
</script>

<template>
  <section class="door">
    <div class="head">
      <svg class="mark" viewBox="0 0 26 26" aria-hidden="true">
        <path d="M2 7h22M2 7v12M24 7v12" stroke="currentColor" stroke-width="2" fill="none" />
        <path class="water" d="M7 7v6c0 3 3 2 3 5v5M13 7v16M19 7v6c0 3-3 2-3 5v5" stroke-width="2.2" fill="none" />
      </svg>
      <h1>{{ title }}</h1>
      <p v-if="says">{{ says }}</p>
    </div>
    <div class="thing"><slot /></div>
    <slot name="beside" />
  </section>
</template>

<style scoped>
.door {
  display: grid;
  grid-template-columns: minmax(280px, 360px) minmax(0, 460px);
  grid-template-rows: auto 1fr;
  gap: var(--gap-6) 72px;
  justify-content: center;
  align-content: start;
  padding: 72px var(--gap-5);
  min-height: 100dvh;
}
.head,
.thing {
  grid-column: 1;
}
.head p {
  font: 18px/1.5 var(--serif);
  color: var(--quiet);
  margin: var(--gap-2) 0 0;
}
.mark {
  width: 44px;
  height: 44px;
}
.water {
  stroke: var(--moss);
}
h1 {
  font-size: 34px;
  overflow-wrap: anywhere;
}
.thing :deep(form) {
  display: grid;
  align-content: start;
  gap: var(--gap-3);
}
@media (max-width: 800px) {
  .door {
    grid-template-columns: minmax(0, 1fr);
    padding: 32px var(--gap-5);
  }
}
</style>
