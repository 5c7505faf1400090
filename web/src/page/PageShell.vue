<script setup lang="ts">
// A shared page: its door, or what stands on it. It belongs to the team that shares it, and shows nothing else.
import { computed, onMounted, onScopeDispose, provide, ref, shallowRef } from 'vue'
import type { PageDoor as Door, PageFront } from '@/api/types'
import { accents } from '@/form/colour'
import { PAGE, pageAt } from './asking'
import PageDoor from './PageDoor.vue'
import PageForm from './PageForm.vue'
import PageRecords from './PageRecords.vue'

const page = pageAt(location.pathname, location.search)
provide(PAGE, page)
const front = shallowRef<PageFront>()
const door = ref<Door>()
const trouble = ref('')
/** Counts up whenever records may be others. */
const looks = ref(0)

async function read() {
  trouble.value = ''
  const answer = await page.get<{ open?: PageFront; door?: Door }>()
  if (!answer.ok) {
    front.value = door.value = undefined
    trouble.value =
      answer.status === 404 ? 'There is no page at this address, or it is closed. Ask whoever gave you the address.' : answer.says
    return
  }
  front.value = answer.body.open
  door.value = answer.body.door
  document.title = front.value?.title ?? door.value?.team ?? ''
  if (front.value) listen()
}

// Told to look again whenever something changed; the browser connects anew by itself.
let events: EventSource | undefined
function listen() {
  if (events || page.tries) return
  events = new EventSource(page.at('/events'))
  events.addEventListener('look', () => void again())
  events.addEventListener('closed', () => {
    stop()
    void read()
  })
}
function stop() {
  events?.close()
  events = undefined
}
async function again() {
  const answer = await page.get<{ open?: PageFront; door?: Door }>('', { again: 'true' })
  if (answer.ok && answer.body.open) {
    front.value = answer.body.open
    looks.value++
  } else {
    stop()
    await read()
  }
}
onMounted(read)
onScopeDispose(stop)

async function leave() {
  stop()
  await page.post('/leave', {})
  await read()
}

type Records = { records: NonNullable<Extract<PageFront['parts'][number], { records: unknown }>['records']> }
const main = computed(() => (front.value?.parts ?? []).filter((part) => !('form' in part)))
const forms = computed(() => (front.value?.parts ?? []).flatMap((part) => ('form' in part ? [part.form] : [])))
const recordsOf = (part: PageFront['parts'][number]) => (part as Records).records
</script>

<template>
  <div class="page" :style="accents(front?.colour ?? door?.colour)">
    <p v-if="page.tries" class="trying" role="status">
      You look at this page as {{ front?.you ?? 'anybody who comes to it' }} would. Nothing that you write here is kept.
    </p>
    <main v-if="front">
      <header>
        <span class="team"><img v-if="front.mark" :src="`/api/public/mark?${front.mark}`" alt="" /> {{ front.team }}</span>
        <span v-if="front.you" class="you"
          >You are here as {{ front.you }}
          <button v-if="!page.tries" type="button" class="link" data-test="leave" @click="leave">Leave</button></span
        >
      </header>
      <h1>{{ front.title }}</h1>
      <p class="greeting" data-test="greeting">
        <template v-for="(phrase, n) in front.greeting" :key="n"
          ><b v-if="phrase.tone === 'strong'">{{ phrase.text }}</b
          ><template v-else>{{ phrase.text }}</template></template
        >
      </p>
      <p v-if="front.intro" class="intro">{{ front.intro }}</p>
      <div class="parts" :class="{ beside: forms.length && main.length }">
        <div v-if="main.length" class="main">
          <template v-for="(part, n) in main" :key="n">
            <section v-if="'text' in part" class="text">
              <h2 v-if="part.text.heading">{{ part.text.heading }}</h2>
              <p v-if="part.text.text">{{ part.text.text }}</p>
            </section>
            <PageRecords v-else :part="recordsOf(part)" :looks="looks" />
          </template>
        </div>
        <div v-if="forms.length" class="forms">
          <PageForm v-for="form in forms" :key="form" :link="form" />
        </div>
      </div>
      <p v-if="!front.parts.length" class="notice">There is nothing here yet.</p>
      <footer>
        <span v-if="front.contact">Shared by {{ front.contact.name }}. This page is all that its link opens.</span>
        <span v-else>This page is all that its link opens.</span>
        <span v-if="front.contact && (front.contact.mail || front.contact.phone)">
          Something is not right? <a v-if="front.contact.mail" :href="`mailto:${front.contact.mail}`">{{ front.contact.mail }}</a><template
            v-if="front.contact.mail && front.contact.phone"
          >
            or </template
          ><a v-if="front.contact.phone" :href="`tel:${front.contact.phone}`">{{ front.contact.phone }}</a>
        </span>
      </footer>
    </main>
    <PageDoor v-else-if="door" :door="door" @in="read" />
    <main v-else-if="trouble" class="notice" role="alert">
      <h1>Nothing to see here</h1>
      <p>{{ trouble }}</p>
      <button type="button" class="link" @click="read">Try again</button>
    </main>
  </div>
</template>

<style>
.page .link {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  color: var(--moss);
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
}
.page h2 {
  font-size: 19px;
  margin: 0;
}
</style>

<style scoped>
.page {
  min-height: 100dvh;
  background: var(--stone);
  color: var(--ink);
}
.trying {
  margin: 0;
  padding: 10px 36px;
  background: var(--copper);
  color: var(--copper-ink);
}
main {
  max-width: 1320px;
  margin: 0 auto;
  padding: 22px 36px 28px;
}
header,
footer {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 24px;
  color: var(--quiet);
  font-size: 13.5px;
}
.team {
  font: 600 16px var(--serif);
  color: var(--ink);
}
.team img {
  height: 30px;
  max-width: 110px;
  margin-right: 6px;
  vertical-align: middle;
}
h1 {
  font-size: 31px;
  line-height: 1.2;
  margin: 20px 0 6px;
  overflow-wrap: anywhere;
}
.greeting {
  margin: 0;
  max-width: 88ch;
  font: 19px/1.5 var(--serif);
  color: var(--quiet);
}
.greeting b {
  color: var(--ink);
  font-weight: 600;
}
.intro,
.text p {
  margin: 8px 0 0;
  max-width: 76ch;
  white-space: pre-line;
  line-height: 1.5;
}
.parts {
  margin-top: 20px;
  border-top: 1px solid var(--line-strong);
}
.parts.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
}
.main {
  display: grid;
  align-content: start;
  gap: 28px;
  min-width: 0;
  padding-top: 16px;
}
.beside .main {
  padding-right: 24px;
}
.forms {
  padding-top: 16px;
}
.beside .forms {
  border-left: 1px solid var(--line);
  padding-left: 24px;
}
footer {
  margin-top: 48px;
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
footer a {
  color: var(--moss);
}
.notice {
  font: 17px/1.5 var(--serif);
}
@media (max-width: 760px) {
  main {
    padding: 16px 16px 24px;
  }
  .trying {
    padding: 10px 16px;
  }
  h1 {
    font-size: 25px;
  }
  .greeting {
    font-size: 17px;
  }
  .parts.beside {
    display: block;
  }
  .beside .main {
    padding-right: 0;
  }
  .beside .forms {
    border-left: 0;
    border-top: 1px solid var(--line);
    margin-top: 28px;
    padding-left: 0;
  }
}
</style>
