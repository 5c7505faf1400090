<script setup lang="ts">
import { useEventListener, useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ContentsPanel from '@/features/tracker/ContentsPanel.vue'
import KeysPanel from '@/features/keys/KeysPanel.vue'
import OwnSettings from '@/features/session/OwnSettings.vue'
import { useUnreadLive } from '@/features/inbox/unread'
import { useSession } from '@/features/session/session'
import { writeFrom } from '@/features/find/discovery'
import { useTracker } from '@/features/tracker/tracker'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'

const { tracker: currentTracker } = useTracker()

const route = useRoute()
const { unread } = useUnreadLive()
const router = useRouter()
const session = useSession()
const { me } = session
const contents = ref(false)
/** Whether one's own panel is open. */
const mine = ref(false)
const { trouble, attempt } = useDoing()
/** Where one was before one stood in for somebody. */
const before = useSessionStorage('westerfall before standing in', '')

const tracker = computed(() => (route.params.tracker ? currentTracker.value : undefined))
const place = computed(() => {
  if (route.name === 'tracker') return 'Groundplan'
  if (route.name === 'import') return 'Import'
  if (route.name === 'automations') return 'Automations'
  if (route.name === 'access') return 'Access'
  if (route.name === 'pages') return 'Shared pages'
  if (route.name === 'page') return tracker.value?.pages.find((one) => one.id === Number(route.params.page))?.title
  if (route.name === 'rounds') return 'Rounds'
  if (route.name === 'inbox') return 'Inbox'
  if (route.name === 'dashboard') return 'Dashboard'
  if (route.name === 'post-room') return 'Post room'
  if (route.name === 'people') return 'People'
  if (route.name === 'own') return 'You'
  if (route.name === 'form') return tracker.value?.forms.find((f) => f.id === Number(route.params.form))?.title
  return tracker.value?.tables.find((t) => t.id === Number(route.params.table))?.name
})
const standing = computed(() => me.value?.stands_in)
// In a tracker those of it; elsewhere all for whom one may stand in, asked once one looks.
const { told: everywhere } = useAsked(
  () => ['stand-in', me.value?.person.id, mine.value && !tracker.value],
  () => (mine.value && !tracker.value ? told(api.GET('/api/session/stand-in')) : Promise.resolve([])),
)
const others = computed(() => {
  if (!tracker.value) return everywhere.value ?? []
  return tracker.value.steward ? tracker.value.people.filter((p) => p.id !== me.value?.person.id) : []
})

/** Looks as somebody else, from the tracker's beginning; afterwards one is where one was. */
async function standIn(person: number | null, group: number | null = null) {
  mine.value = false
  await attempt(async () => {
    const begins = person !== null || group !== null
    if (begins) before.value = route.fullPath
    await session.standIn(person, group)
    // By way of home: what is open is read anew, as whoever one is now.
    await router.push('/')
    if (!begins && before.value) await router.push(before.value)
  })
}

/** To the words; from a view, what it leaves out is told. */
const finding = computed(() => {
  const { tracker: id, table, view } = route.params
  if (!id) return { name: 'find-all' }
  const from = table ? writeFrom({ table: Number(table), view: Number(view) || undefined }) : undefined
  return { name: 'find', params: { tracker: id }, query: { from } }
})
const finds = computed(() => !!me.value && !['find', 'find-all'].includes(String(route.name)))
/** Whether all keys are shown. */
const keys = ref(false)
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if ((event.ctrlKey || event.metaKey) && event.key === '/' && me.value) {
    event.preventDefault()
    keys.value = true
    return
  }
  if (!finds.value || !(event.target instanceof HTMLElement)) return
  const asked = (event.ctrlKey || event.metaKey) && !event.shiftKey && event.key.toLowerCase() === 'k'
  // In a cell a letter is typed into it, this one too.
  const free =
    !event.ctrlKey && !event.metaKey && !event.altKey && !event.target.closest('input, textarea, select, [contenteditable], [role=grid]')
  if (!asked && !(event.key === '/' && free)) return
  event.preventDefault()
  void router.push(finding.value)
})

async function signOut() {
  mine.value = false
  await session.signOut()
  await router.push({ name: 'sign-in' })
}
</script>

<template>
  <header class="band" :class="{ standing }">
    <router-link to="/" class="mark" aria-label="Westerfall, your trackers">
      <svg viewBox="0 0 26 26" aria-hidden="true">
        <path d="M2 7h22M2 7v12M24 7v12" stroke="currentColor" stroke-width="2" fill="none" />
        <path class="water" d="M7 7v6c0 3 3 2 3 5v5M13 7v16M19 7v6c0 3-3 2-3 5v5" stroke-width="2.2" fill="none" />
      </svg>
    </router-link>
    <template v-if="tracker">
      <router-link class="tracker" :title="tracker.name" :to="{ name: 'tracker', params: { tracker: tracker.id } }">{{
        tracker.name
      }}</router-link>
      <span v-if="currentTracker?.stage_word" class="stage">{{ currentTracker.stage_word }}</span>
      <span v-if="place" class="place">{{ place }}</span>
      <v-menu v-model="contents" :close-on-content-click="true" location="bottom start" offset="6">
        <template #activator="{ props }">
          <button v-bind="props" class="plain" data-test="contents"
            ><span class="word">contents</span> <span aria-hidden="true">▾</span></button
          >
        </template>
        <ContentsPanel :tracker="tracker" />
      </v-menu>
    </template>
    <span v-else-if="place" class="place">{{ place }}</span>
    <p v-if="standing" class="standing-words" role="status">
      <span class="whom"
        >Standing in for <b>{{ standing.name }}</b><span class="wide">: you see what they see, and change nothing.</span></span
      >
      <button class="stop" @click="standIn(null)">Stop standing in</button>
    </p>
    <nav v-if="me" class="right" aria-label="You">
      <router-link v-if="finds" :to="finding" class="to-find" data-test="to-find"
        ><span class="wide">Find in {{ tracker?.name ?? 'all trackers' }}</span
        ><span class="short">Find</span><kbd aria-hidden="true">/</kbd></router-link
      >
      <router-link :to="{ name: 'inbox' }" class="plain" data-test="to-inbox"
        >Inbox<template v-if="unread"
          ><sup>{{ unread > 99 ? '99+' : unread }}</sup> <span class="unseen">not read</span></template
        ></router-link
      >
      <router-link :to="{ name: 'rounds' }" class="plain" data-test="to-rounds">Rounds</router-link>
      <router-link v-if="me.post_room" :to="{ name: 'post-room' }" class="plain room">Post room</router-link>
      <v-menu v-model="mine" location="bottom end" offset="6" :close-on-content-click="false">
        <template #activator="{ props }">
          <button v-bind="props" class="me" :aria-label="`${me.person.initials}, you: ${me.person.name}`"
            ><img v-if="me.person.picture" :src="me.person.picture" alt="" /><template v-else>{{ me.person.initials }}</template></button
          >
        </template>
        <div class="panel">
          <p class="name">{{ me.person.name }}</p>
          <p class="quiet">{{ me.mail }}</p>
          <router-link class="line" :to="{ name: 'own' }" data-test="to-own" @click="mine = false">What the team knows of you</router-link>
          <router-link class="line" :to="{ name: 'people' }" data-test="to-people" @click="mine = false">People</router-link>
          <router-link class="line least" :to="{ name: 'inbox' }" @click="mine = false">Inbox</router-link>
          <router-link class="line least" :to="{ name: 'rounds' }" @click="mine = false">Rounds</router-link>
          <router-link v-if="me.post_room" class="line narrow" :to="{ name: 'post-room' }" @click="mine = false">Post room</router-link>
          <template v-if="others.length && !standing">
            <p class="quiet head">Stand in for</p>
            <button v-for="other in others" :key="other.id" class="line" @click="standIn(other.id)">{{ other.name }}</button>
            <button v-for="group in tracker?.groups ?? []" :key="`group ${group.id}`" class="line" @click="standIn(null, group.id)"
              >somebody of {{ group.name }}</button
            >
          </template>
          <button class="line" data-test="to-keys" @click="((mine = false), (keys = true))">Keys</button>
          <OwnSettings />
          <button class="line end" @click="signOut">Sign out</button>
        </div>
      </v-menu>
    </nav>
  </header>
  <KeysPanel v-model="keys" />
  <p v-if="trouble" class="fault-text trouble" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.band {
  height: var(--band);
  display: flex;
  align-items: center;
  gap: var(--gap-4);
  padding: 0 var(--gap-5);
  border-bottom: 1px solid var(--line);
  background: var(--stone);
  white-space: nowrap;
}
.mark {
  color: inherit;
  display: inline-flex;
}
.mark svg {
  width: 26px;
  height: 26px;
}
.water {
  stroke: var(--moss);
}
.tracker {
  font-weight: 600;
  font-size: 15px;
  color: inherit;
  text-decoration: none;
}
.place::before {
  content: '·';
  margin-right: var(--gap-4);
  color: var(--quiet);
}
.stage {
  color: var(--copper);
  font-size: 13px;
}
.standing .stage {
  color: inherit;
}
.plain {
  background: none;
  border: 0;
  color: var(--quiet);
  text-decoration: none;
  cursor: pointer;
  padding: var(--gap-1) var(--gap-2);
  border-radius: var(--corner);
}
.plain:hover {
  color: var(--ink);
}
.plain sup {
  font-size: 12px;
  margin-left: 2px;
  color: var(--copper);
  font-weight: 600;
}
.standing .plain sup {
  font-size: 12px;
  color: inherit;
}
.right {
  margin-left: auto;
  display: flex;
  gap: var(--gap-4);
  align-items: center;
}
.to-find {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-3);
  align-items: center;
  min-width: 210px;
  padding: 4px 8px 4px 10px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--quiet) !important;
  text-decoration: none;
}
.to-find kbd {
  font: 12px var(--sans);
  border: 1px solid var(--line);
  border-radius: var(--corner);
  padding: 0 6px;
}
.to-find .short {
  display: none;
}
.me {
  width: 30px;
  height: 30px;
  border-radius: 50%;
  border: 0;
  padding: 0;
  background: var(--moss);
  color: var(--moss-ink);
  font: 600 12px var(--sans);
  cursor: pointer;
}
.me img {
  display: block;
  width: 100%;
  height: 100%;
  border-radius: 50%;
  object-fit: cover;
}
.standing {
  background: var(--copper);
  color: var(--copper-ink);
}
.standing :is(.plain, .plain:hover, .place, .place::before) {
  color: inherit;
}
.standing .water {
  stroke: currentColor;
}
.standing .me {
  background: var(--copper-ink);
  color: var(--copper);
}
.standing-words {
  display: flex;
  align-items: center;
  min-width: 0;
  margin: 0 0 0 auto;
}
/* Where there is little room the words give way, never the way out. */
.whom {
  overflow: hidden;
  min-width: 0;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.standing-words + .right {
  margin-left: 0;
}
.stop {
  flex: none;
  margin-left: var(--gap-3);
  border: 1px solid currentColor;
  border-radius: var(--corner);
  background: none;
  padding: 2px 10px;
  cursor: pointer;
}
.panel {
  max-height: calc(100dvh - 64px);
  overflow-y: auto;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-3);
  min-width: 240px;
  color: var(--ink);
}
.panel p {
  margin: 0;
}
.name {
  font-weight: 600;
}
.head {
  margin-top: var(--gap-3) !important;
  font-size: 12.5px;
}
.line {
  display: block;
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  padding: 5px 0;
  cursor: pointer;
}
.line:hover {
  color: var(--moss);
}
.narrow,
.least {
  display: none;
}
.end {
  margin-top: var(--gap-2);
  border-top: 1px solid var(--line);
  padding-top: var(--gap-2);
}
.trouble {
  padding: var(--gap-2) var(--gap-5);
}
@media (max-width: 700px) {
  .band {
    gap: var(--gap-2);
    padding: 0 var(--gap-3);
  }
  .place,
  .wide,
  .to-find kbd {
    display: none;
  }
  .to-find {
    min-width: 44px;
    min-height: 44px;
    padding: 0 6px;
    border-color: transparent;
    background: none;
    color: inherit !important;
  }
  .to-find .short {
    display: inline;
  }
  .tracker {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .mark {
    min-width: 40px;
  }
  /* As large as a thumb, drawn as it always is. */
  .me {
    min-width: 44px;
    width: 44px;
    height: 44px;
    border: 7px solid transparent;
    background-clip: padding-box;
  }
  /* Whom one stands in for, and the way out of it, have a line of their own. */
  .band.standing {
    height: auto;
    min-height: var(--band);
    flex-wrap: wrap;
  }
  .standing-words {
    order: 3;
    flex-basis: 100%;
    margin: 0;
    padding-bottom: 6px;
    white-space: normal;
    display: flex;
    align-items: center;
    justify-content: space-between;
  }
  .whom {
    white-space: normal;
  }
}
@media (max-width: 560px) {
  .right {
    gap: var(--gap-1);
  }
  /* Beside the tracker's name its sign is enough to see; the word is heard. */
  .word {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
  .plain:has(.word) {
    min-width: 40px;
    font-size: 17px;
  }
  .right .room {
    display: none;
  }
  .narrow {
    display: block;
    color: inherit;
  }
}
@media (max-width: 360px) {
  .right .plain {
    display: none;
  }
  .least {
    display: block;
    color: inherit;
  }
}
</style>
