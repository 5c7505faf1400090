<script setup lang="ts">
// What a message is about: the same lines in the same places before it is answered and after, so that only what changed is another.
import type { ReplyView } from '@/api/types'

defineProps<{ facts: ReplyView['facts'] }>()
</script>

<template>
  <dl v-if="facts.length" class="facts">
    <div v-for="fact in facts" :key="fact.field">
      <dt>{{ fact.label }}</dt>
      <dd>
        <span :class="{ hued: fact.hue }" :style="fact.hue ? { '--hue': `var(--${fact.hue})` } : undefined">{{ fact.text || '—' }}</span>
        <span v-if="fact.was !== undefined" class="was">was {{ fact.was || 'empty' }}</span>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.facts {
  margin: 0;
  border-top: 1px solid var(--line);
}
.facts div {
  display: grid;
  grid-template-columns: minmax(76px, 26%) 1fr;
  gap: 12px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
dt {
  color: var(--quiet);
  font-size: 14px;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.hued {
  border-left: 3px solid var(--hue);
  padding-left: 7px;
}
.was {
  margin-left: 8px;
  color: var(--quiet);
  font-size: 14px;
}
</style>
