<script setup lang="ts">
// The cells of a record in a plain table, as highlights make them look.
import type { Row, Table } from '@/api/types'
import CellText from '@/features/cell/CellText.vue'
import { isRight } from '@/features/cell/kinds'
import { cellLook, lookClass, lookStyle } from './looks'

const props = defineProps<{ table: Table; fields: number[]; row: Row }>()
const emit = defineEmits<{ why: [field: number, event: MouseEvent] }>()
const fieldOf = (id: number) => props.table.fields.find((field) => field.id === id)
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/no-static-element-interactions -- by keys: the button beside it -->
  <td
    v-for="(id, n) in fields"
    :key="id"
    :class="[{ right: fieldOf(id) && isRight(fieldOf(id)!) }, lookClass(cellLook(row, id, n))]"
    :style="lookStyle(cellLook(row, id, n))"
    :data-looked="fieldOf(id)?.name"
    @click="emit('why', id, $event)"
  >
    <CellText v-if="fieldOf(id)" :field="fieldOf(id)!" :cell="row.cells[n]" :look="cellLook(row, id, n)" />
  </td>
</template>

<style scoped>
td {
  padding: 5px 8px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  max-width: 220px;
}
.right {
  text-align: right;
}
</style>
