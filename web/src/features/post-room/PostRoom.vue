<script setup lang="ts">
// What the post room received: the messages themselves, as their readers get them.
import { computed, ref } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'

const chosen = ref<number>()

const { told: messages, trouble, again } = useAsked(['post-room'], () => told(api.GET('/api/post-room')))
useIntervalFn(() => void again(), 2000)

const WAYS = { mail: 'mail', chat: 'chat', text: 'text', call: 'web call' } as const
/** As programs that show messages do, or its plain text; of a chat its answers are to be seen. */
const asked = ref<boolean>()
const asPage = computed(() => asked.value ?? (open.value?.by === 'chat' || open.value?.by === 'text'))
const open = computed(() => messages.value?.find((m) => m.id === chosen.value) ?? messages.value?.[0])

/** What lies in the open one besides its words. */
const enclosed = useAsked(
  () => ['post-room', open.value?.id ?? 0, 'enclosed'],
  () =>
    open.value ? told(api.GET('/api/post-room/{message}/enclosed', { params: { path: { message: open.value.id } } })) : Promise.resolve([]),
)

interface Run {
  text: string
  href?: string
}
/** The body in runs of text and addresses; only our own addresses become links. */
const runs = computed<Run[]>(() =>
  (open.value?.body ?? '')
    .split(/(https?:\/\/\S+)/)
    .map((text) => (text.startsWith(`${location.origin}/`) ? { text, href: text } : { text })),
)
</script>

<template>
  <section class="room">
    <h1>Post room</h1>
    <p class="says">
      A stand-in for a mail server, a chat and a service for texts: what Westerfall sends is really sent, over SMTP and HTTP, and ends here
      instead of with its readers. So far: {{ messages?.length ?? '…' }}. What lets somebody into their own account is shown to them alone.
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="messages && !messages.length" class="quiet"
      >Nothing has come in yet. An invitation that is mailed appears here, and whatever an automation writes.</p
    >
    <div v-else-if="messages" class="columns">
      <ul class="list" aria-label="Messages received">
        <li v-for="message in messages" :key="message.id">
          <button :class="{ here: message.id === open?.id }" data-test="message" @click="chosen = message.id">
            <span class="to"
              ><template v-if="message.by !== 'mail'">{{ WAYS[message.by ?? 'call'] }}, </template>{{ message.recipient }}</span
            >
            <time>{{ message.at_text }}</time>
            <b>{{ message.subject }}</b>
          </button>
        </li>
      </ul>
      <article v-if="open" class="mail" data-test="open-message">
        <dl>
          <dt>From</dt>
          <dd>{{ open.sender }}</dd>
          <dt>To</dt>
          <dd>{{ open.recipient }}</dd>
          <dt>Received</dt>
          <dd>{{ open.at_text }}</dd>
        </dl>
        <h2>{{ open.subject }}</h2>
        <p class="ways"
          ><button type="button" class="link" data-test="as-page" :aria-pressed="asPage" @click="asked = !asPage">{{
            asPage ? 'as plain text' : 'as it looks'
          }}</button></p
        >
        <iframe
          v-if="asPage"
          :key="open.id"
          class="page"
          :src="`/api/post-room/${open.id}/page`"
          :title="open.subject"
          data-test="mail-page"
        />
        <p v-else class="body"
          ><template v-for="(run, n) in runs" :key="n"
            ><a v-if="run.href" :href="run.href">{{ run.text }}</a
            ><template v-else>{{ run.text }}</template></template
          ></p
        >
        <p v-for="(name, place) in enclosed.told.value ?? []" :key="place" data-test="enclosed"
          >Enclosed: <a :href="`/api/post-room/${open.id}/enclosed/${place}`" download>{{ name }}</a></p
        >
      </article>
    </div>
  </section>
</template>

<style scoped>
.room {
  padding: var(--gap-4) var(--gap-5) 60px;
  max-width: 1180px;
  margin: 0 auto;
}
h1 {
  font-size: 27px;
}
.says {
  font: 17px/1.6 var(--serif);
  color: var(--quiet);
  max-width: 760px;
  margin: 2px 0 var(--gap-4);
}
.columns {
  display: grid;
  grid-template-columns: minmax(260px, 380px) minmax(0, 1fr);
  gap: 44px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 0;
}
.list li {
  border-top: 1px solid var(--line);
}
.list button {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px var(--gap-3);
  width: 100%;
  text-align: left;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  padding: 9px 10px;
  cursor: pointer;
}
.list .here {
  border-left-color: var(--moss);
  background: var(--moss-soft);
}
.to {
  color: var(--quiet);
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
}
time {
  color: var(--quiet);
  font-size: 13px;
}
.list b {
  grid-column: 1 / 3;
  font-weight: 600;
}
.mail {
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: var(--gap-5) 28px 32px;
}
dl {
  display: grid;
  grid-template-columns: 76px 1fr;
  margin: 0;
  font-size: 13px;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
}
h2 {
  font-size: 21px;
  border-top: 1px solid var(--line);
  margin-top: var(--gap-3);
  padding-top: var(--gap-3);
}
.ways {
  margin: var(--gap-2) 0 0;
}
.page {
  width: 100%;
  height: 560px;
  margin-top: var(--gap-2);
  border: 1px solid var(--line);
  /* Mails are light; whoever shows them turns them dark. */
  background: #fff;
}
.body {
  white-space: pre-line;
  overflow-wrap: anywhere;
  margin: var(--gap-3) 0 0;
  font-size: 15px;
}
@media (max-width: 800px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
