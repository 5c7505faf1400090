<script setup lang="ts">
// Letting people in: a line each, as one has them; told by mail with a word of one's own, or not at all yet.
import { computed, onMounted, ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { api, told } from '@/api/client'
import type { LetIn } from '@/api/types'
import { useDoing } from '@/app/asking'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'
import FromTable from './FromTable.vue'
import { newcomers } from './letting'

defineProps<{ known: readonly string[] }>()
const emit = defineEmits<{ done: [letIn: LetIn]; leave: [] }>()
const lines = ref<HTMLTextAreaElement>()
onMounted(() => lines.value?.focus())
const text = ref('')
const mail = ref(true)
const word = ref('')
const rehearsed = ref<LetIn>()
const { busy, general, at, attempt, newest, overtake } = useDoing()

const people = computed(() => newcomers(text.value))
const reachable = computed(() => people.value.filter((one) => one.mail).length)
const body = computed(() => ({ people: people.value, mail: mail.value, word: word.value }))
/** Of one alone, what is wrong stands at no number. */
const faultOf = (place: number) =>
  at(...['name', 'mail', 'about'].flatMap((what) => [`/${place}/${what}`, ...(people.value.length === 1 ? [`/${what}`] : [])]))

watch(body, () => (rehearsed.value = undefined))
watchDebounced(
  body,
  async () => {
    overtake()
    if (!people.value.length) return
    rehearsed.value = await newest(() => told(api.POST('/api/team/people', { body: { ...body.value, rehearse: true } })))
  },
  { debounce: 300 },
)

async function letIn() {
  overtake()
  const done = await attempt(() => told(api.POST('/api/team/people', { body: { ...body.value, rehearse: false } })))
  if (done) emit('done', done)
}
</script>

<template>
  <RehearsalPanel
    title="Let people in"
    :act="mail && reachable ? 'Name them and mail them' : 'Name them'"
    :busy="busy"
    :blocked="!rehearsed"
    :trouble="people.length ? general : ''"
    @act="letIn"
    @leave="emit('leave')"
  >
    <div class="let-in">
      <div>
        <label for="let-in-lines">Who: a line each, a name and an address, as you have them</label>
        <textarea
          id="let-in-lines"
          ref="lines"
          v-model="text"
          rows="4"
          placeholder="Kester Lowe, kester@walkers.example, mends walls"
          data-test="let-in-lines"
        />
        <FromTable :known="known" @lines="text = [text.trim(), ...$event].filter(Boolean).join('\n')" />
        <label class="check"><input v-model="mail" type="checkbox" data-test="let-in-mail" /> Mail each of them an invitation</label>
        <template v-if="mail">
          <label for="let-in-word">A word of yours that goes with it</label>
          <textarea id="let-in-word" v-model="word" rows="2" data-test="let-in-word" />
        </template>
      </div>
      <div class="would" aria-live="polite">
        <table v-if="people.length">
          <thead>
            <tr><th scope="col">Called</th><th scope="col">Address</th><th scope="col">Does</th></tr>
          </thead>
          <tbody>
            <tr v-for="(one, place) in people" :key="place">
              <td
                >{{ one.name }} <p v-if="faultOf(place)" class="fault-text">{{ faultOf(place) }}</p></td
              >
              <td>{{ one.mail || 'none: hand over a link' }}</td>
              <td class="quiet">{{ one.about }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="rehearsed" class="says">{{ rehearsed.says }} Nobody sees anything until a role or a group gives it to them.</p>
      </div>
    </div>
  </RehearsalPanel>
</template>

<style scoped>
.let-in {
  display: grid;
  grid-template-columns: minmax(280px, 1fr) minmax(280px, 1.2fr);
  gap: var(--gap-3) var(--gap-6);
}
label {
  display: block;
  font-size: 13px;
  color: var(--quiet);
}
.check {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
  color: inherit;
}
input {
  accent-color: var(--moss);
}
textarea {
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 6px 10px;
  resize: vertical;
}
.would {
  max-height: 34vh;
  overflow-y: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 13.5px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--line);
  overflow-wrap: anywhere;
}
th {
  font-weight: 400;
  font-size: 12.5px;
  color: var(--quiet);
}
.says {
  font: 16px/1.5 var(--serif);
  margin: var(--gap-2) 0 0;
}
@media (max-width: 460px) {
  th:last-child,
  td:last-child {
    display: none;
  }
}
@media (max-width: 700px) {
  .let-in {
    grid-template-columns: minmax(0, 1fr);
  }
  .check {
    min-height: 44px;
  }
}
</style>
