<script setup lang="ts">
// Inbox: messages that wait for an answer, and what others did, by record; answered in place.
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { InboxWish, Elsewhere } from '@/api/types'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'
import { useSession } from '@/features/session/session'
import ReplySays from '@/reply/ReplySays.vue'
import AskedMessage from './AskedMessage.vue'
import WhyTold from './WhyTold.vue'
import { useUnread } from './unread'

/** How often it is looked again, in milliseconds: it runs across trackers. */
const AGAIN = 5_000

const { me } = useSession()
const { again: recount } = useUnread()
const { trouble, busy, attempt } = useDoing()
const readonly = computed(() => !!me.value?.stands_in)
const inbox = useAsked(
  () => ['inbox', me.value?.person.id],
  () => told(api.GET('/api/inbox')),
)
const view = inbox.told
useIntervalFn(() => void inbox.again(), AGAIN)
const words = ref<Record<number, string>>({})
/** The comment that is being answered, by its notice. */
const answering = ref<number>()

async function act(does: () => Promise<unknown>) {
  const went = await attempt(async () => {
    await does()
    return true
  })
  await Promise.all([inbox.again(), recount()])
  return !!went
}
const read = (notices: number[] | null, is = true) => act(() => told(api.POST('/api/inbox/read', { body: { notices, read: is } })))
const wish = (word: string, elsewhere: Elsewhere) => act(() => told(api.PUT('/api/inbox/wishes', { body: { word, elsewhere } })))
const WHEN: Record<Elsewhere, string> = { never: 'not at all', at_once: 'at once', daily: 'each morning' }
const ways = (one: InboxWish) => one.ways.map((value) => ({ value, title: WHEN[value] }))
type Group = NonNullable<typeof view.value>['groups'][number]
const openOf = (group: Group) => group.notices.filter((one) => !one.read).map((one) => one.number)

async function say(group: Group, notice: Group['notices'][number]) {
  const text = words.value[notice.number]?.trim()
  if (!text || !group.tracker || !group.table || !group.record || notice.comment == null) return
  const path = { tracker: group.tracker, table: group.table, record: group.record }
  const body = { said: [{ text }], answers: notice.comment }
  const went = await act(async () => {
    await told(api.POST('/api/trackers/{tracker}/tables/{table}/records/{record}/talk', { params: { path }, body }))
    await told(api.POST('/api/inbox/read', { body: { notices: [notice.number], read: true } }))
  })
  if (!went) return
  words.value[notice.number] = ''
  answering.value = undefined
}
</script>

<template>
  <div v-if="view" class="inbox">
    <h1>Inbox</h1>
    <p class="sum">
      {{ view.unread ? `${view.unread} not read yet.` : 'Nothing is unread.' }}
      <button v-if="view.unread && !readonly" type="button" class="link" data-test="read-all" @click="read(null)">All of it is read</button>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <section v-if="view.asks.length" aria-label="Waiting for your answer">
      <h2>Waiting for your answer</h2>
      <AskedMessage v-for="ask in view.asks" :key="ask.number" :ask="ask" :readonly="readonly" @answered="act(async () => {})" />
    </section>
    <p v-if="!view.groups.length && !view.asks.length" class="quiet none"
      >Here stands what others say to you and give to you, what is answered, and what your automations could not do.</p
    >
    <section
      v-for="group in view.groups"
      :key="`${group.tracker} ${group.table} ${group.record} ${group.notices[0]?.number}`"
      class="group"
      :class="{ unread: openOf(group).length }"
      :aria-label="group.name || group.tracker_name || 'From the team'"
      data-test="notices"
    >
      <header v-if="group.record">
        <router-link :to="{ name: 'record', params: { tracker: group.tracker, table: group.table, record: group.record } }">{{
          group.name
        }}</router-link>
        <span class="quiet">{{ group.tracker_name }}</span>
      </header>
      <ul>
        <li v-for="notice in group.notices" :key="notice.number" :class="{ unread: !notice.read }">
          <div class="line">
            <ReplySays class="told" :phrases="notice.says" />
            <time>{{ notice.at_text }}</time>
          </div>
          <blockquote v-if="notice.quote">{{ notice.quote }}</blockquote>
          <form v-if="answering === notice.number" class="answer" @submit.prevent="say(group, notice)">
            <!-- eslint-disable-next-line vuejs-accessibility/no-autofocus -- it was pressed to write here -->
            <input v-model="words[notice.number]" class="boxed" autofocus aria-label="Your answer" data-test="answer-words" />
            <v-btn type="submit" color="primary" :disabled="busy || !words[notice.number]?.trim()" data-test="say-answer">Answer</v-btn>
            <v-btn variant="text" @click="answering = undefined">Leave it</v-btn>
          </form>
          <p v-else-if="!readonly" class="acts">
            <button v-if="notice.comment != null" type="button" class="link" data-test="answer" @click="answering = notice.number"
              >answer</button
            >
            <router-link v-if="!group.record && group.tracker" :to="{ name: 'tracker', params: { tracker: group.tracker } }"
              >open it</router-link
            >
            <router-link v-if="!group.tracker" :to="{ name: 'rounds' }">your rounds</router-link>
            <button type="button" class="link" data-test="read" @click="read([notice.number], !notice.read)">{{
              notice.read ? 'not read after all' : 'read'
            }}</button>
            <WhyTold :why="notice.why" />
          </p>
        </li>
      </ul>
    </section>
    <section class="wishes" aria-label="What reaches you elsewhere, too">
      <h2>What reaches you elsewhere, too</h2>
      <p class="quiet"
        >By mail, in the chat or as a text: which of them is said at <router-link :to="{ name: 'own' }">your name</router-link>.</p
      >
      <p v-for="one in view.wishes" :key="one.word" class="wish">
        <PickOne
          said
          :model-value="one.elsewhere"
          :items="ways(one)"
          :disabled="readonly"
          :aria-label="`When it reaches you elsewhere: ${one.says}`"
          :data-test="`wish-${one.word}`"
          @update:model-value="wish(one.word, $event)"
        />
        <span>{{ one.says }}</span>
      </p>
    </section>
  </div>
  <p v-else-if="inbox.trouble.value" class="fault-text alone" role="alert">{{ inbox.trouble.value }}</p>
</template>

<style scoped>
.inbox {
  max-width: 760px;
  margin: 0 auto;
  padding: var(--gap-4) var(--gap-5) 80px;
}
h1 {
  margin: 0;
  font-size: 27px;
}
h2 {
  margin: var(--gap-5) 0 var(--gap-2);
  font-size: 19px;
}
.sum {
  margin: 0 0 var(--gap-4);
  font: 17px/1.5 var(--serif);
  color: var(--quiet);
}
.group {
  border-top: 1px solid var(--line);
  border-left: 3px solid transparent;
  padding: var(--gap-3) 0 var(--gap-3) var(--gap-3);
}
.group.unread {
  border-left-color: var(--moss);
}
header {
  display: flex;
  gap: var(--gap-3);
  justify-content: space-between;
  align-items: baseline;
}
header a {
  font-weight: 600;
}
.quiet,
time {
  color: var(--quiet);
  font-size: 13px;
}
.none {
  font: 17px/1.5 var(--serif);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.line {
  display: flex;
  gap: var(--gap-3);
  justify-content: space-between;
  align-items: baseline;
}
.line time {
  white-space: nowrap;
}
.told {
  margin: 4px 0 0;
  font: 15px/1.45 var(--sans);
}
li:not(.unread) .told {
  color: var(--quiet);
}
blockquote {
  margin: 2px 0;
  font: 18px/1.4 var(--serif);
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 2px var(--gap-4);
  margin: 2px 0 0;
  font-size: 13.5px;
}
.answer {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  margin-top: var(--gap-2);
}
.answer .boxed {
  flex: 1 1 220px;
  padding: 6px 10px;
  font: 15px var(--sans);
}
.wish {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  gap: var(--gap-2);
  align-items: baseline;
  margin: 0;
  padding: 3px 0;
}
.alone {
  padding: var(--gap-5);
}
@media (max-width: 760px) {
  .inbox {
    padding: var(--gap-3) var(--gap-4) 40px;
  }
  .acts :is(button, a),
  .wish {
    min-height: 44px;
    align-items: center;
  }
}
</style>
