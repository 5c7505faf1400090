<script setup lang="ts">
// What putting a record back to a moment would change, before it is done.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { touchesRecord } from '@/features/tracker/tracker'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  /** As it was once this change was made. */
  after: number
  /** These fields alone; none: all. */
  fields: number[]
  title: string
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const edits = useEdits()
const { attempt, busy, trouble } = useDoing()
const path = () => ({ path: { ...props.at } })

const asked = useAsked(
  () => ['as it was', props.at.table, props.at.record, props.after, ...props.fields],
  () => {
    const body = { after: props.after, fields: props.fields }
    return told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/as-it-was', { params: path(), body }))
  },
  (heard) => touchesRecord(heard, props.at.table, props.at.record),
)
/** Fields that somebody leaves as they are now. */
const stays = ref(new Set<number>())
const facts = computed(() => asked.told.value?.fields ?? [])
const going = computed(() => facts.value.filter((one) => !one.refused && !stays.value.has(one.field)).map((one) => one.field))
function toggle(field: number) {
  const next = new Set(stays.value)
  if (!next.delete(field)) next.add(field)
  stays.value = next
}

async function putBack() {
  const body = { after: props.after, fields: going.value }
  const done = await attempt(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/put-back', { params: path(), body })),
  )
  if (!done) return
  edits.remember(props.at.tracker, done)
  emit('done')
}
</script>

<template>
  <RehearsalPanel
    class="panel"
    opens
    :title="title"
    act="Put it back"
    :busy="busy || asked.waiting.value"
    :blocked="!going.length"
    :trouble="trouble || asked.trouble.value"
    @act="putBack"
    @leave="emit('leave')"
  >
    <p v-if="asked.told.value" class="says" data-test="back-says">{{
      facts.length ? asked.told.value.says : 'It is now as it was then.'
    }}</p>
    <table v-if="facts.length">
      <thead>
        <tr><th></th><th>Field</th><th>Now</th><th>Then</th></tr>
      </thead>
      <tbody>
        <tr v-for="one in facts" :key="one.field" :class="{ out: one.refused || stays.has(one.field) }">
          <td
            ><input
              v-if="facts.length > 1 && !one.refused"
              type="checkbox"
              :checked="!stays.has(one.field)"
              :aria-label="`Put ${one.name} back`"
              :data-back="one.field"
              @change="toggle(one.field)"
          /></td>
          <td>{{ one.name }}</td>
          <td
            ><s v-if="!one.refused && !stays.has(one.field)">{{ one.now || 'empty' }}</s
            ><template v-else>{{ one.now || 'empty' }}</template></td
          >
          <td
            >{{ one.then || 'empty' }}<span v-if="one.refused" class="refused">{{ one.refused }}</span></td
          >
        </tr>
      </tbody>
    </table>
  </RehearsalPanel>
</template>

<style scoped>
.panel {
  margin-bottom: var(--gap-4);
}
.says {
  margin: 0 0 4px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
  text-align: left;
}
th,
td {
  padding: 4px 12px 4px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
  overflow-wrap: anywhere;
}
.out td {
  color: var(--quiet);
}
.refused {
  display: block;
  color: var(--fault);
}
</style>
