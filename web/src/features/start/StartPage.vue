<script setup lang="ts">
// Starting a tracker: first what one has, then what it is called.
import AreaPick from '@/features/home/AreaPick.vue'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, send, told } from '@/api/client'
import type { Hue, TemplateLine, TrackerLine } from '@/api/types'
import { useDoing } from '@/app/asking'
import { ICONS, iconOf } from '@/app/icons'
import { useVocabulary } from '@/features/condition/vocabulary'
import FileDrop from '@/features/import/FileDrop.vue'
import type { Upload } from '@/features/import/importing'
import { useSession } from '@/features/session/session'
import TemplateSheet from './TemplateSheet.vue'

const { hues } = useVocabulary()
const { me } = useSession()

type Have = 'file' | 'names' | 'template' | 'tracker' | 'packed' | 'nothing'
const HAVE: { have: Have; name: string; what: string }[] = [
  { have: 'file', name: 'A file', what: 'a spreadsheet, CSV or JSON: its columns become fields' },
  { have: 'names', name: 'A list of names', what: 'what you want to keep, typed or pasted' },
  { have: 'template', name: 'A template', what: 'a useful tracker to begin from, ours or your team’s' },
  { have: 'tracker', name: 'Another tracker', what: 'its structure, with or without its records' },
  { have: 'packed', name: 'A packed tracker', what: 'a whole tracker that was saved as a file' },
  { have: 'nothing', name: 'Nothing yet', what: 'you tell a first few, and see what they become' },
]

const router = useRouter()
const asked = useRoute().query.have
const have = ref<Have | undefined>(HAVE.find((one) => one.have === asked)?.have)
const name = ref('')
const description = ref('')
const area = ref<number | null>(null)
const icon = ref('')
const hue = ref<Hue>()
const names = ref('')
const table = ref('')
const template = ref<TemplateLine>()
const templates = ref<TemplateLine[]>([])
const trackers = ref<TrackerLine[]>([])
const from = ref<number>()
const records = ref(true)
const upload = ref<Upload>()
const packed = ref<{ token: string; name: string; tables: string[] }>()
const find = ref('')
const { trouble, busy, attempt } = useDoing()

onMounted(() =>
  attempt(async () => {
    ;[templates.value, trackers.value] = await Promise.all([told(api.GET('/api/templates')), told(api.GET('/api/trackers'))])
  }),
)

const list = computed(() =>
  names.value
    .split(/[\n,;\t]/)
    .map((n) => n.trim())
    .filter(Boolean),
)
const found = computed(() => {
  const text = find.value.trim().toLowerCase()
  return templates.value.filter((t) => !text || `${t.title} ${t.description} ${t.group}`.toLowerCase().includes(text))
})
const groups = computed(() => [...new Set(found.value.map((t) => t.group))])
const ready = computed(() => {
  if (!name.value.trim()) return false
  if (have.value === 'file') return !!upload.value
  if (have.value === 'names') return list.value.length > 0
  if (have.value === 'template') return !!template.value
  if (have.value === 'tracker') return !!from.value
  if (have.value === 'packed') return !!packed.value
  return have.value === 'nothing'
})

function choose(next: Have) {
  have.value = next
  trouble.value = ''
}
function takeFile(taken: Upload) {
  upload.value = taken
  name.value ||= taken.name.replace(/\.[^.]+$/, '').replace(/[_-]+/g, ' ')
}
function takeTemplate(line: TemplateLine) {
  template.value = line
  name.value = line.title
  description.value = line.description
  icon.value = line.icon
  hue.value = line.hue
}
function takeTracker() {
  const source = trackers.value.find((t) => t.id === from.value)
  if (!source) return
  name.value = `${source.name}, a copy`
  description.value = source.description
  icon.value = source.icon
  hue.value = source.hue ?? undefined
}

async function takePacked(file: File | undefined) {
  if (!file) return
  const body = new FormData()
  body.append('file', file)
  packed.value = await attempt(() => send<{ token: string; name: string; tables: string[] }>('/api/packages', body))
  if (packed.value) name.value = packed.value.name
}

function source() {
  if (have.value === 'names') return { names: { table: table.value, fields: list.value } }
  if (have.value === 'template') return { template: { template: template.value!.key, records: records.value } }
  if (have.value === 'tracker') return { tracker: { tracker: from.value!, records: records.value } }
  if (have.value === 'packed') return { packed: { token: packed.value!.token } }
  // What is imported or told makes the first table itself.
  return 'file' as const
}

const start = () =>
  attempt(async () => {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
    const body = {
      name: name.value,
      description: description.value,
      area: area.value,
      icon: icon.value,
      hue: hue.value ?? null,
      zone,
      from: source(),
    }
    const begun = await told(api.POST('/api/trackers', { body }))
    const params = { tracker: begun.tracker }
    if (have.value === 'file') await router.push({ name: 'import', params, query: { token: upload.value!.token } })
    else if (have.value === 'nothing') await router.push({ name: 'tell', params })
    else if (begun.table && have.value === 'names') await router.push({ name: 'view', params: { ...params, table: begun.table } })
    else await router.push({ name: 'tracker', params })
  })
</script>

<template>
  <main class="start" :class="{ wide: have === 'template' }">
    <p class="over">A new tracker</p>
    <h1>What do you have?</h1>
    <div class="have" role="radiogroup" aria-label="What do you have?">
      <button
        v-for="one in HAVE"
        :key="one.have"
        role="radio"
        :aria-checked="have === one.have"
        :class="{ at: have === one.have }"
        :data-have="one.have"
        @click="choose(one.have)"
      >
        <b>{{ one.name }}</b> <span class="quiet">{{ one.what }}</span>
      </button>
    </div>

    <section v-if="have === 'file'" class="what">
      <FileDrop v-if="!upload" @taken="takeFile" />
      <p v-else>
        <b>{{ upload.name }}</b> can be read<template v-if="upload.sheets.length > 1"
          >: {{ upload.sheets.map((sheet) => sheet.name).join(', ') }}</template
        >. You will see what becomes of each column before anything is kept.
      </p>
    </section>
    <section v-else-if="have === 'names'" class="what">
      <label
        >What you want to keep of each thing
        <textarea v-model="names" rows="5" placeholder="Name, Place, Opened on, Keeper: one a line, or with commas" data-test="names" />
      </label>
      <label>The table is called <input v-model="table" placeholder="Wells, for example" data-test="first-table" /></label>
      <p class="quiet">{{ list.length }} fields, all of them text to begin with. Their kinds can be changed when values stand in them.</p>
    </section>
    <section v-else-if="have === 'template'" class="what two">
      <div class="templates">
        <input v-model="find" aria-label="Find a template" placeholder="Find a template" />
        <template v-for="group in groups" :key="group">
          <h3>{{ group }}</h3>
          <button
            v-for="line in found.filter((t) => t.group === group)"
            :key="line.key"
            class="template"
            :class="{ at: template?.key === line.key }"
            :data-template="line.title"
            @click="takeTemplate(line)"
          >
            <v-icon :icon="iconOf(line.icon)" size="18" :style="{ color: `var(--${line.hue})` }" />
            <span
              ><b>{{ line.title }}</b
              ><span class="quiet">{{ line.description }}</span
              ><span v-if="line.published_by" class="quiet">published by {{ line.published_by }}</span></span
            >
          </button>
        </template>
        <p v-if="!found.length" class="quiet">No template is called like that.</p>
      </div>
      <TemplateSheet v-if="template" :key="template.key" :template="template" />
      <p v-else class="quiet">Choose one to see its tables, views and sample records.</p>
    </section>
    <section v-else-if="have === 'tracker'" class="what">
      <label>
        Which tracker
        <PickOne v-model="from" data-test="from-tracker" :items="named(trackers)" @update:model-value="takeTracker" />
      </label>
    </section>
    <section v-else-if="have === 'packed'" class="what">
      <label
        >The file <input type="file" accept=".zip" data-test="packed" @change="takePacked(($event.target as HTMLInputElement).files?.[0])"
      /></label>
      <p v-if="packed">It holds {{ packed.tables.join(', ') }}.</p>
    </section>

    <template v-if="have">
      <label v-if="have === 'template' || have === 'tracker'" class="check"
        ><input v-model="records" type="checkbox" data-test="with-records" /> with
        {{ have === 'template' ? 'its sample records' : 'its records' }}</label
      >
      <section class="name">
        <label>It is called <input v-model="name" data-test="tracker-name" /></label>
        <label>What it is for <input v-model="description" /></label>
        <div v-if="me?.lets_in" class="area">It lies in the area <AreaPick v-model="area" /></div>
        <div class="looks">
          <button
            v-for="(path, key) in ICONS"
            :key="key"
            type="button"
            :aria-label="`Sign: ${key}`"
            :class="{ at: icon === key }"
            @click="icon = String(key)"
            ><v-icon :icon="path" size="20" :style="{ color: hue ? `var(--${hue})` : undefined }"
          /></button>
          <button
            v-for="one in hues"
            :key="one"
            type="button"
            class="hue"
            :style="{ background: `var(--${one})` }"
            :aria-label="`Colour: ${one}`"
            :class="{ at: hue === one }"
            @click="hue = one"
          />
        </div>
        <p class="quiet"
          >Only you see it until you give others a role in it, unless its area is open to others. All of this can be changed later.</p
        >
        <p v-if="trouble" class="fault-text" role="alert" data-test="trouble">{{ trouble }}</p>
        <v-btn color="primary" :disabled="!ready" :loading="busy" data-test="begin" @click="start">{{
          have === 'file' ? 'Go on to the columns' : 'Start the tracker'
        }}</v-btn>
      </section>
    </template>
    <p v-else-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </main>
</template>

<style scoped>
.start {
  max-width: 820px;
  margin: 0 auto;
  padding: 36px var(--gap-5) 60px;
}
.start.wide {
  max-width: 1180px;
}
.over {
  margin: 0;
  color: var(--quiet);
  font-size: 13px;
}
h1 {
  font-size: 30px;
}
h3 {
  font-size: 14px;
  color: var(--quiet);
  margin: var(--gap-3) 0 2px;
}
.have {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 var(--gap-5);
  margin: var(--gap-3) 0 var(--gap-4);
  border-top: 1px solid var(--line);
}
.have button {
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--line);
  border-left: 3px solid transparent;
  background: none;
  padding: 9px 10px;
  cursor: pointer;
}
.have b {
  font: 600 17px var(--serif);
  display: block;
}
.have .at,
.template.at {
  border-left-color: var(--moss);
  background: var(--moss-soft);
}
.what {
  margin-bottom: var(--gap-4);
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 36px;
}
.template {
  display: flex;
  gap: 10px;
  width: 100%;
  text-align: left;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  padding: 6px 8px;
  cursor: pointer;
}
.template > span {
  display: grid;
}
label,
.area {
  display: block;
  margin-bottom: 8px;
  color: var(--quiet);
  font-size: 13px;
}
input:not([type='checkbox']):not([type='file']),
textarea {
  display: block;
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 6px 8px;
  font-size: 14px;
}
.check {
  color: var(--ink);
}
.name {
  max-width: 560px;
}
.looks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.looks button {
  border: 1px solid transparent;
  border-radius: var(--corner);
  background: none;
  padding: 3px;
  cursor: pointer;
}
.looks .at {
  border-color: var(--ink);
}
.looks .hue {
  width: 18px;
  height: 18px;
}
@media (max-width: 800px) {
  .have,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
