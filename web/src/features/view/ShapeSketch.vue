<script setup lang="ts">
// A shape in a few strokes.
defineProps<{ name: string }>()
</script>

<template>
  <svg viewBox="0 0 96 44" width="96" height="44" aria-hidden="true">
    <template v-if="name === 'rows'">
      <path v-for="y in [7, 17, 27, 37]" :key="y" :d="`M2 ${y}h26M34 ${y}h18M58 ${y}h10M74 ${y}h20`" />
    </template>
    <template v-else-if="name === 'lanes'">
      <template
        v-for="(heights, lane) in [
          [6, 9, 5, 8, 6, 9, 5],
          [8, 5, 6],
          [6, 9, 5, 7],
        ]"
        :key="lane"
      >
        <path v-for="(height, n) in heights" :key="n" :d="`M${3 + lane * 32 + n * 4} 12v-${height}`" />
        <path :d="`M${2 + lane * 32} 14h26`" class="rule" />
        <path v-for="y in heights.length" :key="`l${y}`" :d="`M${2 + lane * 32} ${16 + y * 4}h${18 + (y % 3) * 3}`" class="thin" />
      </template>
    </template>
    <template v-else-if="name === 'calendar'">
      <template v-for="y in [4, 18, 32]" :key="y">
        <path :d="`M2 ${y}h92`" class="rule" />
        <path v-for="x in [2, 15, 28, 41, 54, 67, 80]" :key="x" :d="`M${x} ${y}v3`" class="thin" />
      </template>
      <path d="M29 9h36M29 7v4M65 7v4M16 23h8M68 24h12M42 38h9" />
    </template>
    <template v-else>
      <template v-for="x in [2, 35, 68]" :key="x">
        <rect :x="x" y="3" width="26" height="20" />
        <path :d="`M${x} 30h26M${x} 36h18`" class="thin" />
      </template>
    </template>
  </svg>
</template>

<style scoped>
path,
rect {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.5;
}
.rule {
  stroke: var(--ink);
}
.thin {
  stroke: var(--line-strong);
}
</style>
