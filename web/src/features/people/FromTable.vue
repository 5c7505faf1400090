<script setup lang="ts">
// People whom a tracker knows already: taken from the records of a table, by a name and an address.
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Field, Table, Tracker } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { linesOf } from './letting'

const props = defineProps<{
  /** Addresses of those who are in the team already. */
  known: readonly string[]
}>()
const emit = defineEmits<{ lines: [lines: string[]] }>()

const AT_ONCE = 500
const trackers = useAsked(['trackers'], () => told(api.GET('/api/trackers')))
const doing = useDoing()
const tracker = ref<number>()
const opened = ref<Tracker>()
const table = ref<number>()
const name = ref<number>()
const address = ref<number>()
const took = ref('')

const ofKind = (one: Table, fits: (field: Field) => boolean) => one.fields.filter(fits)
const addresses = (one: Table) => ofKind(one, (field) => field.kind.type === 'email')
/** Only what holds addresses holds people who can be let in. */
const tables = computed(() => opened.value?.tables.filter((one) => addresses(one).length) ?? [])
const chosen = computed(() => tables.value.find((one) => one.id === table.value))

watch(tracker, async (id) => {
  opened.value = table.value = undefined
  took.value = ''
  if (id) opened.value = await doing.newest(() => told(api.GET('/api/trackers/{tracker}', { params: { path: { tracker: id } } })))
  table.value = tables.value[0]?.id
})
watch(chosen, (one) => {
  name.value = one?.standing
  address.value = one && addresses(one)[0]?.id
})

async function take() {
  const [id, at] = [tracker.value, chosen.value]
  const fields = [name.value, address.value].flatMap((field) => (field ? [{ field, width: 100 }] : []))
  if (!id || !at || fields.length < 2) return
  const rows: (string | undefined)[][] = []
  const all = await doing.attempt(async () => {
    for (let start = 0, total = 1; start < total; start += AT_ONCE) {
      const path = { tracker: id, table: at.id }
      const body = {
        query: { condition: { all: [] }, groups: [], sorts: [], fields, tallies: [] },
        slices: [{ start, count: AT_ONCE }],
        keep: [],
      }
      const reply = await told(api.POST('/api/trackers/{tracker}/tables/{table}/query', { params: { path }, body }))
      rows.push(...(reply.slices[0]?.rows ?? []).map((row) => row.cells.map((cell) => cell?.text)))
      total = reply.row_count
    }
    return true
  })
  if (!all) return
  const lines = linesOf(rows, props.known)
  const left = rows.length - lines.length
  took.value = `${lines.length} of ${rows.length} ${at.many}${left ? '; the others have no address, one that came before, or are here already' : ''}.`
  if (lines.length) emit('lines', lines)
}
const items = (fields: Field[]) => fields.map((field) => ({ value: field.id as number | undefined, title: field.name }))
</script>

<template>
  <p class="from">
    Or take them from
    <PickOne
      v-model="tracker"
      said
      aria-label="A tracker that knows them"
      data-test="from-tracker"
      :items="(trackers.told.value ?? []).map((one) => ({ value: one.id as number | undefined, title: one.name }))"
      hint="a tracker …"
    /><template v-if="opened && tables.length"
      >, of its
      <PickOne
        v-model="table"
        said
        aria-label="The table that holds them"
        data-test="from-table"
        :items="tables.map((one) => ({ value: one.id as number | undefined, title: one.many }))"
      /><template v-if="chosen"
        >: by <PickOne v-model="name" said aria-label="The field of their name" :items="items(chosen.fields)" /> and
        <PickOne v-model="address" said aria-label="The field of their address" :items="items(addresses(chosen))" />.
        <v-btn size="small" variant="outlined" :disabled="doing.busy.value" data-test="take-them" @click="take">Take them</v-btn>
      </template></template
    >
    <span v-else-if="opened" class="quiet">: none of its tables has a field for addresses.</span>
    <span role="status">{{ took }}</span>
    <span v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</span>
  </p>
</template>

<style scoped>
.from {
  margin: 0 0 var(--gap-2);
  font: 15px/1.8 var(--serif);
}
</style>
