<script setup lang="ts">
// The other ways into a form: signed web calls, and mails to its own address. What of them goes where, tried on a sample, and what came.
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import { computed, ref } from 'vue'
import { api, saying, told } from '@/api/client'
import type { Form, Mapped, Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import { useVocabulary } from '@/features/condition/vocabulary'

const props = defineProps<{ tracker: number; table: Table; kept: number }>()
const form = defineModel<Form>({ required: true })
const { vocabulary } = useVocabulary()
const trouble = ref('')
const sample = ref('{\n  "title": "Gate will not open"\n}')
const mail = ref({ subject: 'Gate will not open', text: 'By the second post.', sender: 'wynn@walkers.example', name: 'Wynn Ashdale' })
const tried = ref<{ way: string; puts: { name: string; text: string }[]; fault: string }>()
const path = computed(() => ({ tracker: props.tracker, form: form.value.id }))
const fields = computed(() => props.table.fields.filter((f) => form.value.questions.some((q) => q.field === f.id && !q.hidden && !q.lines)))
const parts = computed(() => worded(vocabulary.value?.mail_parts))
const partName = (part: string) => parts.value.find((one) => one.value === part)?.title

const asked = useAsked(
  () => ['ways', props.tracker, form.value.id, props.kept],
  () => told(api.GET('/api/trackers/{tracker}/forms/{form}/ways', { params: { path: path.value } })),
  () => true,
)
const known = asked.told

function takeCalls(on: boolean) {
  form.value.ways.call = on && known.value ? { secret: known.value.fresh_secret, fields: [] } : null
}
function takeMails(on: boolean) {
  form.value.ways.mail = on ? { fields: [] } : null
}
const first = () => fields.value[0]?.id ?? 0
const add = (list: Mapped[], from: string) => list.push({ from, field: first() })
const checked = (event: Event) => (event.target as HTMLInputElement).checked

async function attempt(way: 'call' | 'mail') {
  tried.value = undefined
  trouble.value = ''
  try {
    const body = {
      form: form.value,
      ...(way === 'call' ? { call: JSON.parse(sample.value) as Record<string, never> } : { mail: mail.value }),
    }
    const { puts } = await told(api.POST('/api/trackers/{tracker}/forms/{form}/try', { params: { path: path.value }, body }))
    tried.value = { way, puts, fault: '' }
  } catch (error) {
    tried.value = { way, puts: [], fault: error instanceof SyntaxError ? 'The sample is not JSON.' : saying(error) }
  }
}
</script>

<template>
  <section class="ways boxes" data-test="ways">
    <h2>Other ways in</h2>
    <label
      ><input type="checkbox" :checked="!!form.ways.call" data-test="take-calls" @change="takeCalls(checked($event))" /> It takes signed web
      calls</label
    >
    <template v-if="form.ways.call && known">
      <p class="quiet">
        POST JSON to <code>{{ known.call_address }}</code>, with <code>Westerfall-Timestamp</code> (seconds since 1970) and
        <code>Westerfall-Signature</code>: the HMAC-SHA-256 of timestamp, a point and the body, in hexadecimal digits, under the secret
        <code>{{ form.ways.call.secret }}</code>{{ ' ' }}
        <button type="button" class="link" @click="form.ways.call.secret = known.fresh_secret">another secret</button>
      </p>
      <p v-for="(one, n) in form.ways.call.fields" :key="n" class="row">
        <input v-model="one.from" placeholder="contact.name" aria-label="Place in the JSON" data-test="call-from" /> goes into
        <PickOne v-model="one.field" aria-label="Field" :items="named(fields)" />
        <button type="button" class="link" aria-label="Take this out" @click="form.ways.call.fields.splice(n, 1)">×</button>
      </p>
      <p class="row"><button type="button" class="link" data-test="add-call" @click="add(form.ways.call.fields, '')">+ value</button></p>
      <details>
        <summary>Try a sample</summary>
        <textarea v-model="sample" rows="4" aria-label="A sample call" data-test="sample" />
        <v-btn variant="outlined" size="small" data-test="try-call" @click="attempt('call')">Rehearse it</v-btn>
      </details>
    </template>
    <label
      ><input type="checkbox" :checked="!!form.ways.mail" data-test="take-mails" @change="takeMails(checked($event))" /> It takes
      mails</label
    >
    <template v-if="form.ways.mail && known">
      <p class="quiet"
        >Mails to <code>{{ known.mail_address }}</code>.</p
      >
      <p v-for="(one, n) in form.ways.mail.fields" :key="n" class="row">
        <PickOne v-model="one.from" aria-label="Part of the mail" :items="parts" />
        goes into
        <PickOne v-model="one.field" aria-label="Field" :items="named(fields)" />
        <button type="button" class="link" aria-label="Take this out" @click="form.ways.mail.fields.splice(n, 1)">×</button>
      </p>
      <p class="row"
        ><button type="button" class="link" data-test="add-mail" @click="add(form.ways.mail.fields, 'subject')"
          >+ part of the mail</button
        ></p
      >
      <details>
        <summary>Try a sample</summary>
        <p class="row"
          ><label v-for="(_, part) in mail" :key="part">{{ partName(part) }} <input v-model="mail[part]" /></label
        ></p>
        <v-btn variant="outlined" size="small" data-test="try-mail" @click="attempt('mail')">Rehearse it</v-btn>
      </details>
    </template>
    <div v-if="tried" class="tried" role="status" data-test="tried">
      <p v-if="tried.fault" class="fault-text">It would be refused: {{ tried.fault }}</p>
      <template v-else>
        <p>It would be taken, and this put in:</p>
        <p v-for="put in tried.puts" :key="put.name"
          ><b>{{ put.name }}</b> {{ put.text }}</p
        >
      </template>
    </div>
    <details v-if="known?.log.length">
      <summary>What came: {{ known.log.length }}</summary>
      <p v-for="(line, n) in known.log" :key="n" class="log">
        {{ line.at_text }}, a {{ line.way }}:
        <router-link v-if="line.record" :to="{ name: 'record', params: { tracker, table: table.id, record: line.record } }"
          >taken</router-link
        >
        <span v-else class="refused">refused: {{ line.note }}</span>
      </p>
    </details>
  </section>
</template>

<style scoped>
.ways {
  border-top: 1px solid var(--line);
  margin-top: 22px;
  padding-top: var(--gap-3);
  display: grid;
  gap: 8px;
}
h2 {
  font-size: 16px;
}
p {
  margin: 0;
}
code {
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
textarea {
  width: 100%;
  font-family: monospace;
}
.link,
summary {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 0;
}
.tried {
  border-left: 3px solid var(--copper);
  padding-left: 10px;
}
.refused {
  color: var(--fault);
}
</style>
