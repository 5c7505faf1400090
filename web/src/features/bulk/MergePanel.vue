<script setup lang="ts">
// Two records side by side: which one stays, and of each field whose value it has then.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { MergeRehearsal, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'

const props = defineProps<{ tracker: number; table: Table; records: number[] }>()
const emit = defineEmits<{ done: []; leave: [] }>()

const edits = useEdits()
const { attempt, busy, trouble } = useDoing()
const rehearsing = useDoing()
/** Which of the two stays. */
const stays = ref(0)
const take = ref<number[]>([])
const outcome = shallowRef<MergeRehearsal>()
const path = computed(() => ({ tracker: props.tracker, table: props.table.id }))
const body = computed(() => ({ keep: props.records[stays.value]!, other: props.records[1 - stays.value]!, take: take.value }))

watch(
  body,
  async (now) => {
    rehearsing.overtake()
    const found = await rehearsing.newest(() =>
      told(api.POST('/api/trackers/{tracker}/tables/{table}/merge/rehearsal', { params: { path: path.value }, body: now })),
    )
    if (found) outcome.value = found
  },
  { immediate: true },
)

function stay(which: number) {
  if (which === stays.value) return
  stays.value = which
  // What was chosen of a value stays chosen, whichever record it comes from.
  const choices = outcome.value?.lines.filter((line) => line.choose).map((line) => line.field) ?? []
  take.value = choices.filter((field) => !take.value.includes(field))
}
const choose = (field: number, theirs: boolean) => (take.value = [...take.value.filter((one) => one !== field), ...(theirs ? [field] : [])])

async function act() {
  const done = await attempt(() =>
    told(api.POST('/api/trackers/{tracker}/tables/{table}/merge', { params: { path: path.value }, body: body.value })),
  )
  if (!done) return
  edits.remember(props.tracker, done)
  emit('done')
}
</script>

<template>
  <RehearsalPanel
    class="merge"
    opens
    :title="`Two ${table.many} made one`"
    act="Make them one"
    :busy="busy || rehearsing.busy.value"
    :blocked="!outcome || !!outcome.wrong"
    :trouble="trouble || rehearsing.trouble.value || outcome?.wrong || ''"
    @act="act"
    @leave="emit('leave')"
  >
    <p class="which" role="group" aria-label="Which of them stays"
      >It stays:
      <button type="button" class="link" :aria-pressed="stays === 0" data-test="stays-first" @click="stay(0)">the first</button> or
      <button type="button" class="link" :aria-pressed="stays === 1" data-test="stays-second" @click="stay(1)">the second</button></p
    >
    <p v-if="outcome?.says.length" class="says" data-test="merge-says">{{ outcome.says.join(' ') }}</p>
    <div v-if="outcome" class="scroll" tabindex="0" role="region" aria-label="Both, field by field">
      <table>
        <thead>
          <tr><th>Field</th><th>Stays</th><th>Goes to the bin</th><th>It is then</th></tr>
        </thead>
        <tbody>
          <tr v-for="line in outcome.lines" :key="line.field" :data-merge="line.name">
            <td class="quiet">{{ line.name }}</td>
            <template v-if="line.choose">
              <td
                ><label
                  ><input
                    type="radio"
                    :name="`merge-${line.field}`"
                    :checked="!take.includes(line.field)"
                    @change="choose(line.field, false)"
                  />
                  {{ line.keep || 'empty' }}</label
                ></td
              >
              <td
                ><label
                  ><input
                    type="radio"
                    :name="`merge-${line.field}`"
                    :checked="take.includes(line.field)"
                    @change="choose(line.field, true)"
                  />
                  {{ line.other || 'empty' }}</label
                ></td
              >
            </template>
            <template v-else
              ><td>{{ line.keep || '—' }}</td
              ><td>{{ line.other || '—' }}</td></template
            >
            <td
              ><b v-if="line.then !== line.keep">{{ line.then || 'empty' }}</b
              ><span v-else class="quiet">{{ line.then || '—' }}</span></td
            >
          </tr>
        </tbody>
      </table>
    </div>
  </RehearsalPanel>
</template>

<style scoped>
.merge {
  max-height: 66vh;
  overflow-y: auto;
}
.which {
  margin: 0 0 6px;
}
.which [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
.says {
  font: 16px/1.5 var(--serif);
  margin: 0 0 6px;
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  font-size: 13px;
  width: 100%;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
  text-align: left;
}
th,
td {
  padding: 4px 18px 4px 0;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
label {
  display: flex;
  gap: 8px;
  min-height: 24px;
  cursor: pointer;
}
input {
  accent-color: var(--moss);
}
</style>
