<script setup lang="ts">
// Records made again: as they are, or for the next period. What moves on, what begins anew, what goes along; kept as a recipe on wish.
import { computed, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { BulkRehearsal, Recipe, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useAwaiting } from '@/app/awaiting'
import { useEdits } from '@/features/cell/edits'
import PickOne from '@/features/menu/PickOne.vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import { useTracker } from '@/features/tracker/tracker'
import { figure } from '@/theme/own'

const props = defineProps<{ tracker: number; table: Table; records: number[] }>()
const emit = defineEmits<{ done: []; leave: [] }>()

const { tracker: current } = useTracker()
const edits = useEdits()
const { attempt, busy, trouble } = useDoing()
const rehearsing = useDoing()
const doing = useAwaiting()

const PLAIN: Recipe = { name: '', lines: true, links: true, moves: [], empties: [] }
const recipe = ref<Recipe>({ ...PLAIN })
const path = computed(() => ({ tracker: props.tracker, table: props.table.id }))
const days = computed(() => props.table.fields.filter((f) => f.writes && ['date', 'date_time', 'range'].includes(f.kind.type)))
const others = computed(() =>
  props.table.fields.filter((f) => f.writes && !recipe.value.moves.some((one) => one.field === f.id) && f.kind.type !== 'files'),
)
const hasLines = computed(() => props.table.fields.some((field) => field.lines))
const recipes = computed(() => [
  { value: '', title: 'as they are' },
  ...props.table.recipes.map((one) => ({ value: one.name, title: one.name })),
])

function choose(name: string) {
  const known = props.table.recipes.find((one) => one.name === name)
  recipe.value = known ? structuredClone(known) : { ...PLAIN }
}

const stepOf = (field: number) => recipe.value.moves.find((one) => one.field === field)?.by
const unitOf = (field: number) => (stepOf(field) && 'months' in stepOf(field)! ? 'months' : 'days')
const sizeOf = (field: number) => {
  const step = stepOf(field)
  return step === undefined ? 0 : 'months' in step ? step.months : step.days
}
function move(field: number, size: number, unit: 'days' | 'months') {
  const rest = recipe.value.moves.filter((one) => one.field !== field)
  const whole = Math.max(-100_000, Math.min(100_000, Math.round(size) || 0))
  const by = unit === 'months' ? { months: whole } : { days: whole }
  recipe.value = { ...recipe.value, moves: whole ? [...rest, { field, by }] : rest }
}
function empty(field: number, on: boolean) {
  const rest = recipe.value.empties.filter((one) => one !== field)
  recipe.value = { ...recipe.value, empties: on ? [...rest, field] : rest }
}

const outcome = shallowRef<BulkRehearsal>()
let pause: ReturnType<typeof setTimeout> | undefined
watch(
  () => JSON.stringify([recipe.value, props.records]),
  () => {
    clearTimeout(pause)
    rehearsing.overtake()
    const body = { records: props.records, by: recipe.value }
    pause = setTimeout(async () => {
      outcome.value = await rehearsing.newest(() =>
        told(api.POST('/api/trackers/{tracker}/tables/{table}/again/rehearsal', { params: { path: path.value }, body })),
      )
    }, 200)
  },
  { immediate: true },
)

async function act() {
  const body = { records: props.records, by: recipe.value }
  const done = await attempt(() =>
    doing.awaiting((awaited) =>
      told(api.POST('/api/trackers/{tracker}/tables/{table}/again', { params: { path: path.value }, body: { ...body, awaited } })),
    ),
  )
  if (!done) return
  edits.remember(props.tracker, done)
  emit('done')
}

const naming = ref('')
const keep = () =>
  attempt(async () => {
    const name = naming.value.trim()
    const kept = { ...recipe.value, name }
    const rest = props.table.recipes.filter((one) => one.name.toLowerCase() !== name.toLowerCase())
    const done = await told(
      api.PUT('/api/trackers/{tracker}/tables/{table}/recipes', { params: { path: path.value }, body: { recipes: [...rest, kept] } }),
    )
    edits.remember(props.tracker, done)
    recipe.value = kept
    naming.value = ''
  })
const what = (many: number) => `${figure(many)} ${many === 1 ? props.table.one : props.table.many}`
</script>

<template>
  <RehearsalPanel
    class="again"
    opens
    :title="`${what(records.length)} made again`"
    act="Make them"
    :busy="busy || rehearsing.busy.value"
    :far="doing.far.value"
    :stops="busy"
    :blocked="!outcome || !outcome.changed || !!outcome.refusals || !!outcome.wrong"
    :trouble="trouble || rehearsing.trouble.value || outcome?.wrong || ''"
    @act="act"
    @stop="doing.stop()"
    @leave="emit('leave')"
  >
    <p class="line"
      >Made again
      <PickOne
        said
        :model-value="recipe.name"
        aria-label="By which recipe"
        data-test="again-recipe"
        :items="recipes"
        @update:model-value="choose(String($event))"
      />,
      <button type="button" class="link" :aria-pressed="recipe.links" @click="recipe = { ...recipe, links: !recipe.links }">{{
        recipe.links ? 'with what they link' : 'without what they link'
      }}</button><template v-if="hasLines"
        >,
        <button
          type="button"
          class="link"
          :aria-pressed="recipe.lines"
          data-test="again-lines"
          @click="recipe = { ...recipe, lines: !recipe.lines }"
          >{{ recipe.lines ? 'with their lines' : 'without their lines' }}</button
        ></template
      >.</p
    >
    <p v-for="field in days" :key="field.id" class="line" :data-moves="field.name"
      >{{ field.name }} moves on by
      <input
        class="boxed short"
        inputmode="numeric"
        :aria-label="`By how much ${field.name} moves on`"
        :value="sizeOf(field.id)"
        @change="move(field.id, Number(($event.target as HTMLInputElement).value), unitOf(field.id))" />
      <PickOne
        said
        :model-value="unitOf(field.id)"
        :aria-label="`In what ${field.name} moves on`"
        :items="[
          { value: 'days', title: 'days' },
          { value: 'months', title: 'months' },
        ]"
        @update:model-value="move(field.id, sizeOf(field.id) || 1, $event as 'days' | 'months')"
    /></p>
    <details>
      <summary>Begin as in a new {{ table.one }}: {{ recipe.empties.length || 'none' }}</summary>
      <div class="empties">
        <label v-for="field in others" :key="field.id"
          ><input
            type="checkbox"
            :checked="recipe.empties.includes(field.id)"
            @change="empty(field.id, ($event.target as HTMLInputElement).checked)"
          />
          {{ field.name }}</label
        >
      </div>
    </details>
    <p v-if="outcome?.says.length" class="says" data-test="again-says">{{ outcome.says.join(' ') }}</p>
    <ul v-if="outcome?.refusals" class="refused">
      <li v-for="one in outcome.refused" :key="one.record"
        ><b>{{ one.name }}</b> {{ one.why }}</li
      >
    </ul>
    <table v-else-if="outcome?.examples.length">
      <thead>
        <tr><th>Record</th><th>Field</th><th>Now</th><th>In the new one</th></tr>
      </thead>
      <tbody>
        <tr v-for="(one, n) in outcome.examples" :key="n"
          ><td>{{ one.name }}</td
          ><td class="quiet">{{ one.field }}</td
          ><td>{{ one.before || 'empty' }}</td
          ><td>{{ one.after || 'empty' }}</td></tr
        >
      </tbody>
    </table>
    <p v-if="current?.builds" class="line keep"
      ><label>Keep it as a recipe called <input v-model="naming" class="boxed" data-test="recipe-name" placeholder="next month" /></label>
      <button type="button" class="link" data-test="keep-recipe" :disabled="!naming.trim()" @click="keep">keep</button></p
    >
    <p class="quiet">Files and what no two may hold stay with the ones there are; numbers are given anew.</p>
  </RehearsalPanel>
</template>

<style scoped>
.again {
  max-height: 62vh;
  overflow-y: auto;
}
.line {
  margin: 0 0 4px;
  font: 16px/1.6 var(--serif);
}
.line input,
.empties {
  font: 14px var(--sans);
}
.short {
  width: 64px;
  padding: 2px 8px;
}
.empties {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
  padding: 4px 0;
}
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 26px;
}
input[type='checkbox'] {
  accent-color: var(--moss);
}
.says {
  font: 16px/1.5 var(--serif);
  margin: 6px 0;
}
.refused {
  border-left: 3px solid var(--fault);
  margin: 0 0 4px;
  padding-left: var(--gap-4);
}
table {
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
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
}
.keep {
  margin-top: 6px;
}
</style>
