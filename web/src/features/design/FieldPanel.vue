<script setup lang="ts">
// One field and its settings, beside the records it is on. The same for a new field and for one that is there.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Done, FieldDef, Kind } from '@/api/types'
import { useDoing } from '@/app/asking'
import { facts } from '@/features/cell/kinds'
import { useTracker } from '@/features/tracker/tracker'
import type { DesignSteps, Other } from './design'
import KindChange from './KindChange.vue'
import KindSettings from './KindSettings.vue'
import LinkOffers from './LinkOffers.vue'
import UsesList from './UsesList.vue'
import { useVocabulary } from '@/features/condition/vocabulary'

const { tracker: currentTracker } = useTracker()
const { groups, kindName, begins, newField } = useVocabulary()

const props = defineProps<{
  at: { tracker: number; table: number }
  steps: DesignSteps
  /** None: a new field. */
  field?: number
  /** What a new field is at first. */
  wanted?: Kind
  /** A new field's place. */
  before?: number | null
}>()
const emit = defineEmits<{ close: []; made: [field: number] }>()

const router = useRouter()
const known = computed(() => props.steps.design.value?.fields.find((f) => f.field.id === props.field))
const others = computed(() => (props.steps.design.value?.fields ?? []).map((f) => f.field).filter((f) => f.id !== props.field))
const table = computed(() => currentTracker.value?.tables.find((t) => t.id === props.at.table))
const draft = ref<FieldDef>(newField('text'))
const other = ref<Other>({ name: '', one: false })
const merged = ref<Record<number, number | 0>>({})
const changing = ref(false)
const removing = ref(false)
const confirm = ref<{ $el: HTMLElement }>()
const { trouble, busy, attempt } = useDoing()
const nameBox = ref<HTMLInputElement>()

const fresh = (): FieldDef => ({ ...newField('text'), ...(props.wanted ? { kind: props.wanted } : {}) })
watch(
  () => [known.value?.field.id, props.wanted],
  () => {
    draft.value = known.value ? (JSON.parse(JSON.stringify(known.value.field)) as FieldDef) : fresh()
    other.value = { name: table.value?.name ?? '', one: false }
    changing.value = removing.value = false
    merged.value = {}
    trouble.value = ''
  },
  { immediate: true },
)
onMounted(() => void nextTick(() => nameBox.value?.focus()))

const computes = computed(() => ['summary', 'calculation'].includes(draft.value.kind.type))
const takesInput = computed(() => facts({ kind: draft.value.kind } as Parameters<typeof facts>[0]).editor !== undefined)

function choose(type: Kind['type']) {
  if (type === 'summary' || type === 'calculation') {
    void router.push({
      name: type,
      params: { ...props.at, field: 'new' },
      query: { ...(props.before ? { before: props.before } : {}), ...(draft.value.name ? { name: draft.value.name } : {}) },
    })
    return
  }
  draft.value = { ...draft.value, kind: begins(type) }
}

/** Options that stood there and are taken out, in use or not. */
const gone = computed(() => {
  const old = known.value?.field.kind
  const now = draft.value.kind
  if (!old || !('options' in old) || !('options' in now)) return []
  return old.options.filter((o) => !now.options.some((n) => n.id === o.id))
})
const rest = computed(() => ('options' in draft.value.kind ? draft.value.kind.options : []))

const preset = computed({
  get: () =>
    draft.value.preset === 'now'
      ? 'now'
      : typeof draft.value.preset === 'object' && draft.value.preset
        ? String(Object.values(draft.value.preset.value as object)[0] ?? '')
        : '',
  set: (text: string) => {
    const { type } = draft.value.kind
    if (!text) draft.value.preset = null
    else if (type === 'date' || type === 'date_time') draft.value.preset = 'now'
    else if (type === 'choice') draft.value.preset = { value: { choice: Number(text) } }
    else if (type === 'number') draft.value.preset = { value: { number: text } }
    else draft.value.preset = { value: { text } }
  },
})

const copyLinks = computed(() => others.value.filter((f) => f.kind.type === 'link' && f.kind.one && f.kind.holds))
const copyFields = computed(() => {
  const link = copyLinks.value.find((f) => f.id === draft.value.copies?.link)?.kind
  return link?.type === 'link' ? (currentTracker.value?.tables.find((t) => t.id === link.to)?.fields ?? []) : []
})

/** Keeps a new field and begins the next, as one writes down a list of them. */
const keepAndGoOn = () =>
  attempt(async () => {
    if (known.value || !draft.value.name.trim()) return
    const done = await props.steps.add(draft.value, props.before ?? null, draft.value.kind.type === 'link' ? other.value : undefined)
    emit('made', done.made!)
    draft.value = newField('text')
    await nextTick()
    nameBox.value?.focus()
  })

const keep = () =>
  attempt(async () => {
    if (known.value) {
      const pairs = gone.value.map((o): [number, number | null] => [o.id, merged.value[o.id] || null])
      const chosen = pairs.filter(([id]) => merged.value[id] !== undefined)
      await props.steps.change(draft.value, chosen)
      emit('close')
    } else {
      const done = await props.steps.add(draft.value, props.before ?? null, draft.value.kind.type === 'link' ? other.value : undefined)
      emit('made', done.made!)
      emit('close')
    }
  })

/** Asks before anything goes; the keys go to what asks. */
async function beginRemoving() {
  removing.value = true
  await nextTick()
  confirm.value?.$el.focus()
}

const remove = () =>
  attempt(async () => {
    await props.steps.remove(draft.value)
    emit('close')
  })
const duplicate = () =>
  attempt(async () => {
    const done = await props.steps.duplicate(draft.value)
    emit('made', done.made!)
    emit('close')
  })

async function kindDone(answer: Done) {
  await props.steps.remember(answer)
  emit('close')
}
</script>

<template>
  <aside
    class="field"
    :aria-label="known ? `The field ${known.field.name}` : 'A new field'"
    data-test="field-panel"
    @keydown.esc.stop="emit('close')"
  >
    <div class="head">
      <p class="over">{{ known ? `${kindName(draft.kind.type)} in ${table?.name}` : `A new field in ${table?.name}` }}</p>
      <button class="close" aria-label="Close" @click="emit('close')">✕</button>
    </div>
    <input
      ref="nameBox"
      v-model="draft.name"
      class="name"
      aria-label="Name of the field"
      placeholder="Name of the field"
      data-test="field-name"
      @keydown.enter.prevent="known ? keep() : keepAndGoOn()"
      @keydown.enter="keep"
    />

    <div v-if="!known" class="kinds" role="radiogroup" aria-label="Kind">
      <template v-for="group in groups" :key="group.name">
        <p class="quiet group">{{ group.name }}</p>
        <button
          v-for="one in group.kinds"
          :key="one.type"
          type="button"
          role="radio"
          class="kind"
          :aria-checked="draft.kind.type === one.type"
          :class="{ at: draft.kind.type === one.type }"
          :title="one.what || undefined"
          :data-kind="one.type"
          @click="choose(one.type as Kind['type'])"
          ><v-icon :icon="facts({ kind: { type: one.type } } as never).icon" size="15" /> {{ one.name }}</button
        >
      </template>
    </div>
    <p v-else-if="!computes && draft.kind.type !== 'carried'" class="kindline">
      <button v-if="!changing" class="link" data-test="change-kind" @click="changing = true">Change its kind…</button>
    </p>
    <KindChange
      v-if="changing && known"
      :at="at"
      :field="known.field"
      :fields="others"
      :one="table?.one ?? ''"
      :many="table?.name ?? ''"
      @done="kindDone"
      @leave="changing = false"
    />

    <template v-if="!changing">
      <KindSettings v-model="draft.kind" v-model:other="other" :table="at.table" :fields="others" :known="!!known" />
      <div v-for="option in gone" :key="option.id" class="gone">
        “{{ option.name }}” goes ({{ known?.options.find((one) => one.option === option.id)?.says }}); where it stands,
        <PickOne
          v-model="merged[option.id]"
          :aria-label="`What ${option.name} becomes`"
          :items="[
            { value: undefined, title: 'nothing may hold it' },
            { value: 0, title: 'the cell is left empty' },
            ...rest.map((one) => ({ value: one.id, title: `it becomes ${one.name}` })),
          ]"
        />
      </div>
      <LinkOffers v-if="draft.kind.type === 'link' && known" v-model="draft" :others="others" />
      <label class="line">What it is, for those who fill it in <input v-model="draft.help" data-test="field-help" /></label>
      <template v-if="takesInput">
        <label><input v-model="draft.required" type="checkbox" data-test="required" /> Required</label>
        <label v-if="draft.kind.type === 'files'"
          ><input v-model="draft.originals" type="checkbox" data-test="originals" /> Pictures stay as they were taken, with where and when
          that was</label
        >
        <label v-else><input v-model="draft.unique" type="checkbox" /> No two records hold the same</label>
        <label v-if="draft.kind.type === 'choices' || (draft.kind.type === 'choice' && draft.kind.on == null)"
          ><input v-model="draft.grows" type="checkbox" data-test="grows" /> Whoever fills it in may add an option while they do</label
        >
        <label v-if="['date', 'date_time'].includes(draft.kind.type)"
          ><input type="checkbox" :checked="preset === 'now'" @change="preset = ($event.target as HTMLInputElement).checked ? 'now' : ''" />
          Begins with the day a record is added</label
        >
        <label v-else-if="draft.kind.type === 'choice'" class="line">
          Begins with
          <PickOne
            v-model="preset"
            :items="[{ value: '', title: 'nothing' }, ...rest.map((one) => ({ value: String(one.id), title: one.name }))]"
          />
        </label>
        <label v-else-if="['text', 'long_text', 'number'].includes(draft.kind.type)" class="line"
          >Begins with <input v-model="preset"
        /></label>
        <template v-if="copyLinks.length && draft.kind.type !== 'link'">
          <label class="line">
            Filled from the linked
            <PickOne
              :model-value="draft.copies?.link ?? ''"
              :items="[{ value: '', title: 'nothing' }, ...named(copyLinks)]"
              @update:model-value="draft.copies = Number($event) ? { link: Number($event), field: 0 } : null"
            />
            <PickOne v-if="draft.copies" v-model="draft.copies.field" aria-label="Its field" :items="named(copyFields)" />
          </label>
        </template>
      </template>
      <p v-if="trouble" class="fault-text" role="alert" data-test="field-trouble">{{ trouble }}</p>
      <div v-if="removing && known" class="removing">
        <p> {{ known.held }} The values stay in the bin with it for 30 days. </p>
        <UsesList :uses="known.uses" />
        <v-btn ref="confirm" color="error" size="small" :loading="busy" data-test="remove-field" @click="remove">Put it into the bin</v-btn>
        <v-btn variant="text" size="small" @click="removing = false">Leave it</v-btn>
      </div>
      <div v-else class="acts">
        <v-btn color="primary" :loading="busy" :disabled="!draft.name.trim()" data-test="keep-field" @click="keep">{{
          known ? 'Keep' : 'Make field'
        }}</v-btn>
        <template v-if="known">
          <v-btn variant="text" :disabled="busy" @click="duplicate">Duplicate</v-btn>
          <v-btn variant="text" :disabled="busy" data-test="remove" @click="beginRemoving">Remove…</v-btn>
        </template>
      </div>
      <p v-if="known && !removing" class="used"
        ><router-link :to="{ name: 'hangs', params: at, query: { field: known.field.id } }" data-test="begin-from-field"
          >Begin a view or a highlight from it</router-link
        ></p
      >
      <details v-if="known && known.uses.length && !removing" class="used">
        <summary>Used in {{ known.used }}</summary>
        <UsesList :uses="known.uses" />
      </details>
    </template>
  </aside>
</template>

<style scoped>
.field {
  background: var(--sheet);
  border-left: 1px solid var(--line-strong);
  padding: var(--gap-3) var(--gap-5) var(--gap-5);
  overflow-y: auto;
  display: grid;
  gap: 7px;
  align-content: start;
  min-width: 0;
}
.head {
  display: flex;
}
.over {
  margin: 0;
  color: var(--quiet);
  font-size: 13px;
}
.close,
.link {
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
  padding: 0;
}
.close {
  margin-left: auto;
}
.link {
  color: var(--moss);
}
.name {
  font: 600 21px/1.3 var(--serif);
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  background: none;
  width: 100%;
}
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 8px;
}
.group {
  grid-column: 1 / 3;
  margin: 6px 0 0;
  font-size: 12px;
}
.kind {
  border: 1px solid transparent;
  border-radius: var(--corner);
  background: none;
  text-align: left;
  padding: 3px 6px;
  cursor: pointer;
}
.kind:hover {
  background: var(--moss-soft);
}
.kind.at {
  border-color: var(--moss);
  background: var(--moss-soft);
}
.kindline {
  margin: 0;
}
.line {
  display: block;
  color: var(--quiet);
  font-size: 12.5px;
}
.line input {
  display: block;
  width: 100%;
}
.line input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 4px 6px;
  font-size: 14px;
}
.gone {
  border-left: 3px solid var(--copper);
  padding-left: 8px;
}
.acts {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.removing {
  border-top: 3px solid var(--copper);
  padding-top: 6px;
}
.removing p {
  margin: 0 0 4px;
}
.used {
  color: var(--quiet);
  font-size: 13px;
}
</style>
