<script setup lang="ts">
// Which fields of linked records are listed, in which order, and with which figures beneath.
import { computed, ref } from 'vue'
import type { RecordList, Table } from '@/api/types'
import { isKept } from '@/features/cell/kinds'
import PickOne from '@/features/menu/PickOne.vue'
import FieldsEditor from '@/features/view/FieldsEditor.vue'

const props = defineProps<{ list: RecordList; table: Table }>()
const emit = defineEmits<{ set: [list: RecordList] }>()

const NUMBERS = ['number', 'money', 'duration']
const open = ref(false)
const shown = computed(() => props.list.shows.map((field) => ({ field, width: 100 })))
// What is kept by itself may be listed too, but is not what one looks for.
const fields = computed(() => props.table.fields.filter((field) => !isKept(field)))
const numbers = computed(() => props.table.fields.filter((f) => props.list.shows.includes(f.id) && NUMBERS.includes(f.shows.type)))
const orders = computed(() => [
  { value: null, title: 'as they were linked' },
  ...fields.value.map((field) => ({ value: field.id, title: `by ${field.name}` })),
])

function show(of: { field: number }[]) {
  const shows = of.map((one) => one.field)
  emit('set', { ...props.list, shows, figures: props.list.figures.filter((figure) => shows.includes(figure.field)) })
}

function sum(field: number, on: boolean) {
  const rest = props.list.figures.filter((one) => one.field !== field)
  emit('set', { ...props.list, figures: on ? [...rest, { field, figure: 'sum' }] : rest })
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom end">
    <template #activator="{ props: menu }">
      <button v-bind="menu" type="button" class="link" data-test="list-fields">{{
        list.shows.length ? `lists ${list.shows.length} fields` : 'lists names'
      }}</button>
    </template>
    <div class="popup pad" role="dialog" :aria-label="`What is listed of ${table.many}`" data-test="list-editor">
      <FieldsEditor :table="{ ...table, fields }" :fields="shown" @change="show" />
      <template v-if="list.shows.length">
        <p><button type="button" class="link" @click="show([])">their names alone</button></p>
        <p
          >They stand
          <PickOne
            said
            :model-value="list.by ?? null"
            aria-label="In which order they stand"
            :items="orders"
            @update:model-value="(by) => emit('set', { ...list, by })"
          /><template v-if="list.by"
            >,
            <button type="button" class="link" @click="emit('set', { ...list, descending: !list.descending })">{{
              list.descending ? 'last first' : 'first first'
            }}</button></template
          >.</p
        >
        <label v-for="field in numbers" :key="field.id">
          <input
            type="checkbox"
            :checked="list.figures.some((one) => one.field === field.id)"
            @change="sum(field.id, ($event.target as HTMLInputElement).checked)"
          />
          the sum of {{ field.within }} beneath
        </label>
      </template>
    </div>
  </v-menu>
</template>

<style scoped>
.pad {
  padding: var(--gap-3);
  max-width: 340px;
}
p {
  margin: var(--gap-2) 0;
}
label {
  display: flex;
  gap: 8px;
  min-height: 26px;
}
input {
  accent-color: var(--moss);
}
.link {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  font-size: 13px;
  min-height: 24px;
}
@media (pointer: coarse) {
  .link {
    min-height: 40px;
  }
}
</style>
