<!-- A quiet picture at the head of a form, drawn by us. -->
<template>
  <svg class="scene" viewBox="0 0 560 92" preserveAspectRatio="xMidYMax slice" aria-hidden="true">
    <rect width="560" height="92" class="air" />
    <path d="M0 62L90 26L180 58L270 20L390 60L480 30L560 50V92H0Z" class="far" />
    <path d="M0 82L220 58L560 84V92H0Z" class="near" />
    <path d="M262 92C282 76 330 74 312 63" class="path" />
  </svg>
</template>

<style scoped>
.scene {
  display: block;
  width: calc(100% + 40px);
  margin: 0 -20px;
  height: 92px;
}
.air {
  fill: color-mix(in srgb, var(--sky) 16%, var(--sheet));
}
.far {
  fill: color-mix(in srgb, var(--lichen) 62%, var(--sheet));
}
.near {
  fill: color-mix(in srgb, var(--fern) 70%, var(--peat));
}
.path {
  fill: none;
  stroke: color-mix(in srgb, var(--gorse) 20%, var(--sheet));
  stroke-width: 5;
}
</style>
