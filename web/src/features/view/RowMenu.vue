<script setup lang="ts">
// What can be done with a record of rows, and with one of its cells.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Condition, Field, Row, Table } from '@/api/types'
import { leadsTo } from '@/features/cell/kinds'
import PopupMenu from '@/features/menu/PopupMenu.vue'
import { useLikeness } from './like'
import type { usePicked } from './picked'

/** The record and the cell of which the menu is, and where it opens, in CSS pixels. */
export interface MenuPlace {
  x: number
  y: number
  row: Row
  field: Field | undefined
}

const props = defineProps<{
  tracker: number
  table: Table
  columns: Field[]
  picked: ReturnType<typeof usePicked>
  readonly: boolean
  /** Whether records stand in an order by hand. */
  orders: boolean
}>()
const menu = defineModel<MenuPlace>()
const emit = defineEmits<{
  open: [record: number]
  why: [row: Row, field: Field | undefined, x: number, y: number]
  history: [row: Row, field: Field]
  only: [condition: Condition]
  top: [row: Row]
  bottom: [row: Row]
  nth: [row: Row]
  remove: [row: Row]
}>()

const router = useRouter()
const like = useLikeness(() => {
  const { row, field } = menu.value ?? {}
  return row && field ? { tracker: props.tracker, table: props.table.id, record: row.id, field: field.id } : undefined
})

/** The record that the cell names. */
const linked = computed(() => {
  const { row, field } = menu.value ?? {}
  return row && field && leadsTo(props.tracker, field, row.cells[props.columns.findIndex((one) => one.id === field.id)])
})

function follow() {
  const to = linked.value?.to
  menu.value = undefined
  if (to) void router.push(to)
}

function onlyWhere(condition: Condition) {
  menu.value = undefined
  emit('only', condition)
}

function choose(does: (at: MenuPlace) => void) {
  const chosen = menu.value
  menu.value = undefined
  if (chosen) does(chosen)
}
</script>

<template>
  <PopupMenu :at="menu" :label="`What can be done with this ${table.one}`" @close="menu = undefined">
    <button @click="choose(({ row }) => emit('open', row.id))">Open folio <kbd>Ctrl Enter</kbd></button>
    <button data-test="menu-pick" @click="choose(({ row }) => picked.turn([row.id]))"
      >{{ menu && picked.holds(menu.row.id) ? 'Let go of it' : 'Choose it' }} <kbd>Ctrl Space</kbd></button
    >
    <button v-if="linked" data-test="menu-to-linked" @click="follow">Open {{ linked.name }}</button>
    <template v-if="menu?.field">
      <button @click="choose(({ row, field, x, y }) => emit('why', row, field, x, y))">
        Why is {{ menu.field.name }} like this? <kbd>Ctrl .</kbd>
      </button>
      <button data-test="menu-history" @click="choose(({ row, field }) => emit('history', row, field!))">
        What stood in “{{ menu.field.name }}” before
      </button>
    </template>
    <template v-if="like">
      <button data-test="menu-only" @click="onlyWhere(like.only)">Only those where {{ like.only_words }}</button>
      <button data-test="menu-others" @click="onlyWhere(like.others)">Only those where {{ like.others_words }}</button>
    </template>
    <button @click="choose(({ row, x, y }) => emit('why', row, undefined, x, y))">Why is it in this view?</button>
    <template v-if="!readonly && orders">
      <button data-test="menu-top" @click="choose(({ row }) => emit('top', row))">Move to the top <kbd>Alt Shift Home</kbd></button>
      <button data-test="menu-bottom" @click="choose(({ row }) => emit('bottom', row))">Move to the bottom <kbd>Alt Shift End</kbd></button>
      <button data-test="menu-nth" @click="choose(({ row }) => emit('nth', row))">Move to place …</button>
    </template>
    <button v-if="menu?.row.remove && !readonly" @click="choose(({ row }) => emit('remove', row))">Put into the bin</button>
  </PopupMenu>
</template>
