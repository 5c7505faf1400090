<script setup lang="ts">
// A sheet to hang up: what the form is for, and its code to scan.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'
import FormScene from '@/form/FormScene.vue'
import { useTracker } from '@/features/tracker/tracker'
import { withParameters } from './form'
import { plates } from './plates'

const route = useRoute()
const { told: answer, trouble } = useAsked(
  () => ['form', route.params.tracker, route.params.form],
  () =>
    told(
      api.GET('/api/trackers/{tracker}/forms/{form}', {
        params: { path: { tracker: Number(route.params.tracker), form: Number(route.params.form) } },
      }),
    ),
)
const { tracker } = useTracker()

/** What the link says beside what each plate says. */
const query = computed(() =>
  Object.entries(route.query)
    .filter(([name]) => name !== 'sheet')
    .map(([name, value]) => ({ name, value: String(value) })),
)
const address = (more: { name: string; value: string }[]) => withParameters(answer.value?.address ?? '', [...query.value, ...more])
const code = (more: { name: string; value: string }[]) =>
  withParameters(`/api/public/forms/${answer.value?.form.link}/qr/code.svg`, [...query.value, ...more])

/** The question for each of whose records there is a plate. */
const sheet = computed(() => {
  const question = answer.value?.form.questions.find((q) => q.field === Number(route.query.sheet))
  const table = tracker.value?.tables.find((t) => t.id === answer.value?.form.table)
  const kind = table?.fields.find((f) => f.id === question?.field)?.kind
  const to = kind?.type === 'link' ? tracker.value?.tables.find((t) => t.id === kind.to) : undefined
  return question?.parameter && to ? { parameter: question.parameter, to } : undefined
})
const { told: all } = useAsked(
  () => ['plates', route.params.tracker, sheet.value?.to.id],
  async () => {
    const to = sheet.value?.to
    if (!to) return []
    return plates(Number(route.params.tracker), to.id, to.standing, to.fields.find((f) => f.kind.type === 'numbering')?.id)
  },
)
const print = () => window.print()
</script>

<template>
  <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  <div v-if="answer" class="page">
    <p class="acts"
      ><v-btn color="primary" @click="print">{{ sheet ? `Print ${all?.length ?? 0} codes` : 'Print this poster' }}</v-btn></p
    >
    <div v-if="sheet" class="plates" data-test="plates">
      <article v-for="plate in all ?? []" :key="plate.value" class="plate">
        <img :src="code([{ name: sheet.parameter, value: plate.value }])" :alt="`The code for ${plate.name}`" loading="lazy" />
        <p
          ><b>{{ plate.name }}</b> <span v-if="plate.value !== plate.name">{{ plate.value }}</span></p
        >
        <p>{{ answer.form.title }}</p>
      </article>
    </div>
    <article v-else class="poster" data-test="poster">
      <FormScene :theme="answer.form.appearance?.theme ?? 'fell'" />
      <p v-if="answer.view.team" class="team">{{ answer.view.team }}</p>
      <h1>{{ answer.form.title }}</h1>
      <p class="intro">{{ answer.form.intro }}</p>
      <img :src="code([])" alt="The form’s address as a QR code" />
      <p class="address">{{ address([]) }}</p>
    </article>
  </div>
</template>

<style scoped>
.page {
  padding: var(--gap-4);
}
.acts {
  text-align: center;
}
.plates {
  display: grid;
  grid-template-columns: repeat(auto-fill, 56mm);
  gap: 6mm;
  justify-content: center;
}
.plate {
  padding: 4mm;
  border: 1px dashed #8a8674;
  background: #fff;
  color: #23261f;
  text-align: center;
  break-inside: avoid;
}
.plate img {
  width: 44mm;
  height: 44mm;
  margin: 0;
}
.plate p {
  margin: 2mm 0 0;
  font-size: 13px;
}
.poster {
  width: min(148mm, 100%);
  box-sizing: border-box;
  min-height: 200mm;
  margin: 0 auto;
  padding: 0 20px 14mm;
  background: #fff;
  color: #23261f;
  border: 1px solid var(--line);
  text-align: center;
  overflow: hidden;
}
h1 {
  font-size: 34px;
  margin-top: 10mm;
}
.team {
  margin-top: 8mm;
}
.intro {
  font: 19px/1.5 var(--serif);
  white-space: pre-line;
}
.poster > img {
  width: min(78mm, 80%);
  height: auto;
  margin-top: 6mm;
}
.address {
  overflow-wrap: anywhere;
  font-size: 14px;
}
@media print {
  .acts {
    display: none;
  }
  .page {
    padding: 0;
  }
  .poster {
    border: 0;
    width: 100%;
  }
}
</style>
<style>
@media print {
  .band {
    display: none !important;
  }
}
</style>
