<script setup lang="ts">
// What has to be chosen of a new record before it is added, since it hangs on it who sees the record.
import type { Field, Input, Table } from '@/api/types'
import CellEditor from '@/features/cell/CellEditor.vue'

defineProps<{ table: Table; tracker: number; field: Field }>()
const emit = defineEmits<{ say: [field: Field, input: Input]; leave: [] }>()
</script>

<template>
  <v-menu :model-value="true" target="[data-test=add]" location="bottom end" :close-on-content-click="false" persistent no-click-animation>
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- Escape leaves it from wherever one is within -->
    <div
      class="ask"
      role="dialog"
      :aria-label="`${field.name} of the new ${table.one}`"
      data-test="ask-first"
      @keydown.esc.stop="emit('leave')"
    >
      <p
        >{{ field.name }} of the new {{ table.one }}: <span class="quiet">it is offered where you will see the {{ table.one }}.</span></p
      >
      <CellEditor
        :key="field.id"
        :field="field"
        :cell="null"
        :at="{ tracker, table: table.id }"
        @commit="emit('say', field, $event)"
        @cancel="emit('leave')"
      />
      <v-btn variant="text" size="small" @click="emit('leave')">Leave it</v-btn>
    </div>
  </v-menu>
</template>

<style scoped>
.ask {
  width: min(340px, 94vw);
  padding: var(--gap-3);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
}
.ask p {
  margin: 0 0 var(--gap-2);
}
</style>
