<script setup lang="ts">
// A field becomes another kind: chosen, rehearsed on its own values, done as one step.
import PickOne from '@/features/menu/PickOne.vue'
import { computed, onMounted, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import { useDoing } from '@/app/asking'
import type { Done, FieldDef, Kind, KindRehearsal, LinkProposal } from '@/api/types'
import ExamplesTable from '@/features/rehearsal/ExamplesTable.vue'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import KindSettings from './KindSettings.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import { worded } from '@/features/menu/pick'

const { vocabulary, becoming: kinds, kindName, begins } = useVocabulary()

const props = defineProps<{ at: { tracker: number; table: number }; field: FieldDef; fields: FieldDef[]; one: string; many: string }>()
const emit = defineEmits<{ done: [answer: Done]; leave: [] }>()

const type = ref<Kind['type'] | ''>('')
const kind = ref<Kind>()
const rest = ref<'empty' | 'spare' | 'create'>('spare')
const proposals = ref<LinkProposal[]>([])
/** What a table of its values would be called. */
const own = ref({ name: '', one: '' })
const chosen = ref(0)
const several = ref(false)
const back = ref('')
const heard = ref<KindRehearsal>()
const { trouble, busy, attempt, newest } = useDoing()

const path = computed(() => ({ params: { path: { ...props.at, field: props.field.id } } }))

watch(type, async (now) => {
  heard.value = undefined
  trouble.value = ''
  if (!now) return
  kind.value = begins(now)
  if (now !== 'link') {
    rest.value = 'spare'
    return rehearse()
  }
  const found = await attempt(() => told(api.GET('/api/trackers/{tracker}/tables/{table}/fields/{field}/links', path.value)))
  if (!found) return
  proposals.value = found.proposals
  own.value = found.own
  rest.value = 'create'
  back.value = props.many
  if (proposals.value.length) take(0)
  else makeTable()
})

function take(place: number) {
  chosen.value = place
  const proposal = proposals.value[place]
  if (!proposal) return
  several.value = proposal.separator != null
  void rehearse()
}

/** A table of their own for the values, where no other fits or none is wanted. */
const fresh = ref({ name: '', one_name: '' })
function makeTable() {
  chosen.value = -1
  several.value = false
  if (!fresh.value.name) fresh.value = { name: own.value.name, one_name: own.value.one }
  void rehearse()
}

const target = computed(() => {
  const proposal = proposals.value[chosen.value]
  if (type.value === 'link') {
    const other = { name: back.value || props.many, one: false }
    if (chosen.value < 0) return { table: { ...fresh.value, one: !several.value, separator: several.value ? ',' : null, other } }
    if (!proposal) return undefined
    const separator = several.value ? (proposal.separator ?? ',') : null
    return { link: { to: proposal.to, by: proposal.by, one: !several.value, separator, other } }
  }
  return kind.value && { kind: kind.value }
})

async function ask(rehearse: boolean) {
  const to = target.value
  if (!to) return undefined
  return told(
    api.POST('/api/trackers/{tracker}/tables/{table}/fields/{field}/kind', { ...path.value, body: { to, rest: rest.value, rehearse } }),
  )
}

async function rehearse() {
  const answer = await newest(() => ask(true))
  if (answer) heard.value = answer.rehearsal ?? undefined
}

async function doIt() {
  const answer = await attempt(() => ask(false))
  if (!trouble.value) emit('done', answer?.done ?? {})
}

function settings(next: Kind) {
  kind.value = next
  void rehearse()
}
const root = ref<HTMLElement>()
onMounted(() => root.value?.querySelector<HTMLElement>('input[role=combobox]')?.focus())
</script>

<template>
  <div ref="root" class="change">
    <p class="choose">
      <b>{{ field.name }}</b> becomes a
      <PickOne
        v-model="type"
        aria-label="New kind"
        data-test="new-kind"
        :items="kinds.map((known) => ({ value: known.type, title: known.name.toLowerCase() }))"
        hint="choose a kind"
      />
    </p>
    <template v-if="type === 'link'">
      <p v-if="!busy && !proposals.length" class="quiet">No other table has records that are called like these values: they get one.</p>
      <label v-for="(proposal, place) in proposals.slice(0, 5)" :key="place" class="proposal">
        <input type="radio" name="proposal" :checked="chosen === place" @change="take(place)" /> {{ proposal.says }}
      </label>
      <label class="proposal">
        <input type="radio" name="proposal" :checked="chosen < 0" data-test="new-link-table" @change="makeTable" /> A new table of its
        values
      </label>
      <p v-if="chosen < 0" class="fresh">
        It is called <input v-model="fresh.name" aria-label="Name of the new table" data-test="link-table-name" @change="rehearse" />, one
        of them is a <input v-model="fresh.one_name" aria-label="Name of one record" @change="rehearse" />;
        <label
          ><input v-model="several" type="checkbox" data-test="link-several" @change="rehearse" /> commas part several in one value</label
        >
      </p>
      <label>There it is called <input v-model="back" @change="rehearse" /></label>
    </template>
    <KindSettings
      v-else-if="kind && type && type !== 'choice' && type !== 'choices'"
      :model-value="kind"
      :table="at.table"
      :fields="fields"
      :known="false"
      @update:model-value="settings"
    />
    <p v-if="heard && heard.unfit.length" class="rest">
      What does not fit
      <PickOne
        v-model="rest"
        aria-label="What does not fit"
        data-test="rest"
        :items="worded(vocabulary?.rests).filter((one) => type === 'link' || one.value !== 'create')"
        @update:model-value="rehearse"
      />
    </p>
    <RehearsalPanel
      v-if="type && (heard || trouble)"
      :title="`${field.name}: ${kindName(field.kind.type).toLowerCase()} → ${kindName(type).toLowerCase()}`"
      act="Change the kind"
      :busy="busy"
      :blocked="!heard || !!trouble"
      :trouble="trouble"
      @act="doIt"
      @leave="emit('leave')"
    >
      <ExamplesTable v-if="heard" :told="heard" />
    </RehearsalPanel>
  </div>
</template>

<style scoped>
.change {
  display: grid;
  gap: 6px;
}
.choose,
.rest {
  margin: 0;
}
.proposal {
  display: block;
}
input:not([type='radio']) {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 3px 6px;
}
</style>
