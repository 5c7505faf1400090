<script setup lang="ts">
// Where one word stands: the field’s name, and what it says with the word marked.
import type { FoundPiece } from '@/api/types'

defineProps<{ piece: FoundPiece }>()
</script>

<template>
  <span class="piece"
    ><span class="of">{{ piece.of }}</span
    >{{ ' '
    }}<template v-for="(span, at) in piece.text" :key="at"
      ><mark v-if="span.hit">{{ span.text }}</mark
      ><template v-else>{{ span.text }}</template></template
    ></span
  >
</template>

<style scoped>
.piece {
  overflow-wrap: anywhere;
}
.of {
  font-size: 12px;
  color: var(--quiet);
}
mark {
  background: none;
  color: inherit;
  font-weight: 700;
  border-bottom: 2px solid var(--moss);
}
</style>
