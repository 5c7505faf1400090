<script setup lang="ts">
// What is in a field: in a sentence, as a drawing in which a part can be chosen, and clause by clause what can be done with it.
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Condition, Field, FieldSlip as Told, Query, SlipAct, SlipRun, SlipValue } from '@/api/types'
import { useAsked } from '@/app/asking'
import { onlyRuns, onlyValues, withoutRuns, withoutValues } from './slip'
import SlipRuns from './SlipRuns.vue'
import SlipValues from './SlipValues.vue'
import SlipYears from './SlipYears.vue'

const props = defineProps<{ tracker: number; table: number; field: Field; query: Query; readonly: boolean }>()
const emit = defineEmits<{ act: [act: SlipAct]; narrow: [only: Condition]; find: [] }>()

/** Words that values are looked for by. */
const search = ref('')
const { told: newest, trouble } = useAsked(
  () => ['slip', props.tracker, props.field.id, props.query, search.value],
  () =>
    told(
      api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}/slip', {
        params: { path: { tracker: props.tracker, table: props.table, field: props.field.id } },
        body: { query: props.query, search: search.value },
      }),
    ),
)
/** What was told stands until more is: while one looks for a value, nothing goes away under one’s hands. */
const slip = shallowRef<Told>()
watch(newest, (now) => now && (slip.value = now), { immediate: true })
watch(
  () => props.field.id,
  () => ((slip.value = undefined), (search.value = '')),
)
const root = ref<HTMLElement>()
watch(
  slip,
  (_, before) => before || nextTick(() => root.value?.querySelector<HTMLElement>('button, [tabindex="0"]')?.focus({ preventScroll: true })),
)

const runs = ref<[SlipRun, SlipRun]>()
const values = ref<SlipValue[]>([])
/** What is chosen, as the condition that leaves only that, and the one that leaves it out. */
const chosen = computed(() => {
  const { id } = props.field
  if (runs.value) return { only: onlyRuns(id, ...runs.value), without: withoutRuns(id, ...runs.value) }
  return values.value.length ? { only: onlyValues(id, values.value), without: withoutValues(id, values.value) } : undefined
})

/** Whoever stands in looks: what changes the structure is not pressed. */
const SHAPES: SlipAct['act'][] = ['settings', 'add', 'compute', 'formula']
const pressed = (act: SlipAct | null | undefined) => act && !(props.readonly && SHAPES.includes(act.act))

/** What tests press a phrase by. */
const handle = (act: SlipAct) => {
  if (act.act === 'where') return 'narrow-by'
  if (act.act === 'group') return 'group-by'
  if (act.act === 'add') return act.behind ? 'field-behind' : 'field-before'
  if (act.act === 'compute') return act.summary ? 'slip-summary' : 'slip-calculation'
  return act.act === 'settings' ? 'field-settings' : `slip-${act.act}`
}
</script>

<template>
  <div ref="root" class="slip" data-test="slip">
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <template v-else-if="slip">
      <p class="says">{{ slip.says }}</p>
      <p v-if="field.help" class="quiet help">{{ field.help }}</p>
      <SlipRuns v-if="slip.drawing.of === 'runs'" v-model="runs" :runs="slip.drawing.runs" :today="slip.drawing.today ?? undefined" />
      <SlipYears
        v-if="slip.drawing.of === 'runs' && slip.drawing.years?.length"
        :key="field.id"
        v-model="runs"
        :years="slip.drawing.years"
      />
      <SlipValues
        v-if="slip.drawing.of === 'values'"
        v-model="values"
        v-model:search="search"
        :values="slip.drawing.values"
        :more="slip.drawing.more"
      />
      <p v-if="slip.drawing.of !== 'nothing'" class="chosen">
        <button :disabled="!chosen" data-test="slip-only" @click="chosen && emit('narrow', chosen.only)">Show only these</button>
        <button :disabled="!chosen" data-test="slip-without" @click="chosen && emit('narrow', chosen.without)">leave them out</button>
      </p>
      <dl>
        <template v-for="clause in slip.clauses" :key="clause.word">
          <dt>{{ clause.word }}</dt>
          <dd
            ><template v-for="(phrase, n) in clause.phrases" :key="n"
              >{{ n ? (clause.phrases[n - 1]!.does && phrase.does ? ', ' : ' ') : ''
              }}<button
                v-if="pressed(phrase.does)"
                :class="phrase.does!.act === 'where' ? 'offer' : 'phrase'"
                :data-test="handle(phrase.does!)"
                :data-order="phrase.does?.act === 'order' ? Number(phrase.does.descending) : undefined"
                @click="phrase.does?.act === 'narrow' ? emit('narrow', phrase.does.only) : emit('act', phrase.does!)"
                >{{ phrase.text }}</button
              ><template v-else>{{ phrase.text }}</template></template
            ></dd
          >
        </template>
      </dl>
      <p class="chosen">
        <button data-test="slip-find" @click="emit('find')">find words in it</button>
        <router-link v-if="!readonly" data-test="slip-begin" :to="{ name: 'hangs', params: { tracker, table }, query: { field: field.id } }"
          >begin something from it</router-link
        >
      </p>
    </template>
    <p v-else class="quiet">…</p>
  </div>
</template>

<style scoped>
.slip {
  width: min(520px, calc(100vw - 32px));
  overflow-y: auto;
  padding: var(--gap-3) var(--gap-4);
}
.says {
  font: 17px/1.5 var(--serif);
  color: var(--quiet);
  margin: 0 0 var(--gap-2);
}
.help {
  margin: 0 0 var(--gap-2);
}
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: var(--gap-1) 0 var(--gap-2);
}
.chosen a,
.chosen button {
  color: var(--moss);
  text-decoration: underline;
  text-underline-offset: 3px;
}
.chosen button:disabled {
  color: var(--quiet);
  text-decoration: none;
  cursor: default;
}
dl {
  display: grid;
  grid-template-columns: 62px minmax(0, 1fr);
  margin: 0;
}
dt,
dd {
  border-top: 1px solid var(--line);
  padding: 6px 0;
  margin: 0;
}
dt {
  font: italic 15px/1.6 var(--serif);
  color: var(--quiet);
}
dd {
  font: 16px/24px var(--serif);
  color: var(--quiet);
  overflow-wrap: anywhere;
}
button {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  cursor: pointer;
  text-align: left;
  white-space: normal;
}
dd button {
  display: inline;
  min-height: 24px;
}
/* As high as a thumb, on lines that are as far apart. */
@media (max-width: 700px) {
  dd {
    line-height: 42px;
  }
  dd button {
    padding-block: 11px;
  }
}
.phrase {
  color: var(--moss);
  border-bottom: 1px dashed currentColor;
  line-height: 1.15;
}
.phrase:is(:hover, :focus-visible) {
  background: var(--moss-soft);
}
.offer {
  font: 14px var(--sans);
  color: var(--quiet);
}
</style>
