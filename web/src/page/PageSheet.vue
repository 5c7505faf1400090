<script setup lang="ts">
// One record of a shared page, or a new one: what it shows, and what one fills in. Nothing of its past.
import { computed, onMounted, provide, reactive, ref, watch } from 'vue'
import type { PageRow, PageTable, QuestionView, RecordName } from '@/api/types'
import { begun, filesOf, inputs, type Answer } from '@/form/answer'
import FormQuestion from '@/form/FormQuestion.vue'
import { NAMES } from '@/form/names'
import { usePage } from './asking'
import { faultyField, filesIn, inputsThatChanged } from './cells'

const props = defineProps<{ part: PageTable; row?: PageRow }>()
const emit = defineEmits<{ done: [says: string]; leave: [] }>()

const page = usePage()
const dialog = ref<HTMLDialogElement>()
const trouble = ref('')
const faults = ref<Record<string, string>>({})
const busy = ref(false)
const removing = ref(false)
const key = crypto.randomUUID()

const fills = computed(() => !props.row || props.row.change)
/** The column by which it is called. */
const named = computed(() => props.part.columns[props.row?.cells.findIndex((cell) => cell?.text) ?? -1])
const title = computed(() => props.row?.cells.find((cell) => cell?.text)?.text ?? `A new ${props.part.one}`)
/** What stands in each section that the record has: facts, and what one fills in. */
const sections = computed(() =>
  props.part.sections.flatMap((section, place) => {
    if (props.row?.without?.includes(place)) return []
    const columns = section.fields.flatMap(({ field }) => {
      const at = props.part.columns.findIndex((column) => column.field === field)
      const column = props.part.columns[at]
      return column ? [{ column, cell: props.row?.cells[at], asks: fills.value ? column.question : undefined }] : []
    })
    // What it is called stands over it already; a file is also looked at.
    const isTold = ({ column, cell }: (typeof columns)[number]) => column.field === named.value?.field && !filesIn(cell).length
    const facts = props.row ? columns.filter((one) => !one.asks && !isTold(one)) : []
    const asked = columns.flatMap(({ asks, cell }): QuestionView[] => {
      if (!asks) return []
      return [{ ...asks, given: cell?.value ? { value: cell.value, text: cell.typed ?? '', links: cell.links } : undefined }]
    })
    return facts.length || asked.length ? [{ ...section, place, facts, asked }] : []
  }),
)
const questions = computed(() => sections.value.flatMap((section) => section.asked))
const answers = reactive<Record<number, Answer>>({})
// Somebody else may fill in what another section asks of it.
watch(questions, (asked) => asked.forEach((question) => (answers[question.field] ??= begun(question))), { immediate: true, flush: 'sync' })

onMounted(() => dialog.value?.showModal())
provide(NAMES, async (field, search) => {
  const answer = await page.post<RecordName[]>(`/parts/${props.part.number}/names`, { field, search, record: props.row?.id })
  return answer.ok ? answer.body : []
})

async function keep() {
  busy.value = true
  const given = inputs(questions.value, answers)
  const at = `/parts/${props.part.number}/records`
  const files = filesOf(questions.value, answers)
  const edits = props.row ? inputsThatChanged(questions.value, given, props.row, props.part) : []
  const answer = props.row
    ? await page.write<{ kept: string }>(`${at}/${props.row.id}`, { edits }, files)
    : await page.write<{ kept: string }>(at, given, files, { 'idempotency-key': key })
  busy.value = false
  if (answer.ok) return emit('done', props.row ? `Kept ${answer.body.kept}.` : `Added ${answer.body.kept}.`)
  faults.value = Object.fromEntries(answer.faults.map((fault) => [faultyField(fault.pointer, edits) ?? '', fault.message]))
  const elsewhere = answer.faults.find((fault) => !questions.value.some((one) => one.field === faultyField(fault.pointer, edits)))
  const atBoxes = answer.faults.length > 0 && !elsewhere
  trouble.value = atBoxes ? 'Nothing is kept yet: what is wrong is said at its box.' : (elsewhere?.message ?? answer.says)
}

async function remove() {
  if (!props.row) return
  const answer = await page.drop(`/parts/${props.part.number}/records/${props.row.id}`)
  if (answer.ok) emit('done', `Taken away. The team can bring it back.`)
  else trouble.value = answer.says
}
</script>

<template>
  <dialog ref="dialog" class="sheet" :aria-label="title" @close="emit('leave')">
    <form novalidate @submit.prevent="keep">
      <h2>{{ title }}</h2>
      <component
        :is="section.heading ? 'details' : 'div'"
        v-for="section in sections"
        :key="section.place"
        class="section"
        :open="section.heading ? !section.closed || !!section.asked.length : undefined"
      >
        <summary v-if="section.heading">{{ section.heading }}</summary>
        <dl v-if="section.facts.length" :class="{ two: section.two }">
          <div v-for="{ column, cell } in section.facts" :key="column.field">
            <dt>{{ column.name }}</dt>
            <dd>
              <template v-if="filesIn(cell).length">
                <a v-for="file in filesIn(cell)" :key="file.id" :href="page.at(`/files/${file.id}`)" target="_blank" rel="noopener">
                  <img v-if="file.media.startsWith('image/')" :src="page.at(`/files/${file.id}`)" :alt="file.name" loading="lazy" />
                  <template v-else>{{ file.name }}</template>
                </a>
              </template>
              <template v-else>{{ cell?.text || '—' }}</template>
            </dd>
          </div>
        </dl>
        <FormQuestion
          v-for="question in section.asked"
          :key="question.field"
          v-model="answers[question.field]!"
          :question="question"
          :fault="faults[question.field]"
        />
      </component>
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <div class="acts">
        <template v-if="row?.remove">
          <button v-if="!removing" type="button" class="link away" @click="removing = true">Take it away</button>
          <span v-else
            >Take this {{ part.one }} away?
            <button type="button" class="link away" data-test="take-away" @click="remove">Take it away</button></span
          >
        </template>
        <button type="button" class="link" @click="dialog?.close()">{{ questions.length ? 'Leave it' : 'Close' }}</button>
        <button v-if="questions.length" type="submit" class="go" :disabled="busy" data-test="keep-record">{{
          row ? 'Keep it' : `Add ${part.one}`
        }}</button>
      </div>
    </form>
  </dialog>
</template>

<style scoped>
.sheet {
  width: min(560px, 100vw - 24px);
  max-height: calc(100dvh - 24px);
  padding: 22px 24px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
.sheet::backdrop {
  background: rgb(35 38 31 / 35%);
}
.section {
  margin-top: 8px;
}
summary {
  cursor: pointer;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
  font: 600 16px/1.4 var(--serif);
}
dl {
  margin: 0;
}
@media (pointer: coarse) {
  summary {
    padding: 10px 0;
  }
}
@media (min-width: 480px) {
  .two {
    display: grid;
    grid-template-columns: 1fr 1fr;
    column-gap: 24px;
  }
}
dt {
  color: var(--quiet);
  font-size: 13.5px;
  margin-top: 10px;
}
dd {
  margin: 0;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
img {
  max-width: 100%;
  max-height: 260px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  align-items: center;
  gap: 8px 20px;
  margin-top: 20px;
}
.away {
  margin-right: auto;
  color: var(--fault) !important;
}
.acts .link {
  min-height: 44px;
}
.go {
  min-height: 44px;
  padding: 0 18px;
  border: 1px solid var(--moss);
  border-radius: var(--corner);
  background: var(--moss);
  color: var(--moss-ink);
  font: inherit;
  font-weight: 600;
  cursor: pointer;
}
</style>
