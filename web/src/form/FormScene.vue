<script setup lang="ts">
// A quiet picture at the head of a form, drawn by us: one for each theme.
defineProps<{ theme: string }>()
</script>

<template>
  <svg class="scene" :class="theme" viewBox="0 0 560 92" preserveAspectRatio="xMidYMax slice" aria-hidden="true">
    <rect width="560" height="92" class="air" />
    <template v-if="theme === 'tarn'">
      <path d="M0 58L110 22L230 56L330 30L450 58L560 36V92H0Z" class="far" />
      <path d="M0 66H560V92H0Z" class="water" />
      <path d="M150 74H250M300 80H430M60 84H130" class="path" />
    </template>
    <template v-else-if="theme === 'quarry'">
      <path d="M0 70L60 70L60 46L140 46L140 30L300 30L300 52L400 52L400 40L560 40V92H0Z" class="far" />
      <path d="M0 84H560V92H0Z" class="near" />
    </template>
    <template v-else-if="theme === 'hayfield'">
      <path d="M0 56Q140 30 280 54T560 46V92H0Z" class="far" />
      <path d="M0 76Q160 60 320 76T560 72V92H0Z" class="near" />
      <path d="M70 74a14 12 0 0 1 28 0ZM250 70a14 12 0 0 1 28 0ZM440 74a14 12 0 0 1 28 0Z" class="bale" />
    </template>
    <template v-else-if="theme === 'heath'">
      <path d="M0 60Q120 34 260 56T560 44V92H0Z" class="far" />
      <path d="M0 80Q180 62 340 80T560 74V92H0Z" class="near" />
    </template>
    <template v-else>
      <path d="M0 62L90 26L180 58L270 20L390 60L480 30L560 50V92H0Z" class="far" />
      <path d="M0 82L220 58L560 84V92H0Z" class="near" />
      <path d="M262 92C282 76 330 74 312 63" class="path" />
    </template>
  </svg>
</template>

<style scoped>
.scene {
  --a: var(--lichen);
  --b: color-mix(in srgb, var(--fern) 70%, var(--peat));
  display: block;
  width: calc(100% + 40px);
  margin: 0 -20px;
  height: 92px;
}
.tarn {
  --a: var(--slate);
}
.heath {
  --a: var(--heather);
  --b: color-mix(in srgb, var(--plum) 60%, var(--peat));
}
.quarry {
  --a: var(--flint);
  --b: var(--slate);
}
.hayfield {
  --a: color-mix(in srgb, var(--gorse) 55%, var(--lichen));
  --b: color-mix(in srgb, var(--gorse) 70%, var(--bracken));
}
.air {
  fill: color-mix(in srgb, var(--sky) 16%, var(--sheet));
}
.far {
  fill: color-mix(in srgb, var(--a) 62%, var(--sheet));
}
.near {
  fill: var(--b);
}
.water {
  fill: color-mix(in srgb, var(--sky) 60%, var(--sheet));
}
.bale {
  fill: color-mix(in srgb, var(--bracken) 80%, var(--peat));
}
.path {
  fill: none;
  stroke: color-mix(in srgb, var(--gorse) 20%, var(--sheet));
  stroke-width: 5;
}
.tarn .path {
  stroke-width: 2;
  stroke: var(--sheet);
}
</style>
