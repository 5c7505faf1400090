<script setup lang="ts">
// A tracker begun from nothing: one says what one of them is, and tells a first few. Nothing is made before one says so.
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, told } from '@/api/client'
import type { Done } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { useTracker } from '@/features/tracker/tracker'
import TellLines from './TellLines.vue'

const route = useRoute()
const router = useRouter()
const edits = useEdits()
const { tracker: currentTracker, read: readTracker } = useTracker()
const { trouble, attempt } = useDoing()
const tracker = computed(() => Number(route.params.tracker))
const one = ref('')
const word = ref<HTMLInputElement>()
onMounted(() => word.value?.focus())

async function made(done: Done) {
  edits.remember(tracker.value, done)
  await readTracker()
  await router.push({ name: 'view', params: { tracker: tracker.value, table: done.made ?? undefined } })
}

/** A table with a field or two, in which nothing stands. */
const makeEmpty = () =>
  attempt(async () => {
    const body = { name: currentTracker.value?.name ?? '', one: one.value.trim() || null }
    await made(await told(api.POST('/api/trackers/{tracker}/tables', { params: { path: { tracker: tracker.value } }, body })))
  })

const EXAMPLES = [
  {
    what: 'Tell one',
    how: 'as over the telephone',
    lines: ['WP-0114, Esker Ridge to Hob Gate, oak, 14 May 2019, £31.20'],
    then: 'Each piece becomes a field, called by what it looks like. You are asked only where it can be read in two ways.',
  },
  {
    what: 'Paste some',
    how: 'from a sheet, a mail or a page',
    lines: ['Post, Wood, Set up on', 'WP-0114, oak, 14 May 2019', 'WP-0115, larch, 3.6.2019'],
    then: 'A first line of headings is taken for names. All lines are read.',
  },
  {
    what: 'Name what you note',
    how: 'about each, one to a line',
    lines: ['Post', 'Set up on', 'Cost'],
    then: 'Each line becomes a field; the records come later.',
  },
]
</script>

<template>
  <main class="page">
    <p class="over">{{ currentTracker?.name }}. Nothing is made yet</p>
    <h1>
      <label for="one-of-them">What is one of them?</label>
      <input id="one-of-them" ref="word" v-model="one" maxlength="60" placeholder="waymark post, say" data-test="one-of-them" />
    </h1>
    <p class="says">Its buttons and sentences will use the word.</p>
    <TellLines :tracker="tracker" :one="one" @made="made">
      <div class="examples">
        <section v-for="example in EXAMPLES" :key="example.what">
          <h2
            >{{ example.what }} <small>{{ example.how }}</small></h2
          >
          <p class="lines"
            ><span v-for="line in example.lines" :key="line">{{ line }}</span></p
          >
          <p class="quiet">{{ example.then }}</p>
        </section>
      </div>
      <p class="rather">
        Rather from <router-link :to="{ name: 'import', params: { tracker } }">a file</router-link>, or
        <button type="button" class="link phrase" data-test="empty-one" @click="makeEmpty">an empty table</button>.
      </p>
    </TellLines>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </main>
</template>

<style scoped>
.over,
h1,
.says,
.rather {
  padding-inline: var(--gap-5);
}
.over {
  margin: var(--gap-4) 0 0;
  color: var(--quiet);
  font-size: 13px;
}
h1 {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 14px;
  font-size: 32px;
}
h1 input {
  flex: 1 1 260px;
  min-width: 0;
  max-width: 460px;
  border: 0;
  border-bottom: 2px solid var(--moss);
  background: none;
  color: var(--moss);
  font: inherit;
}
.says {
  color: var(--quiet);
  font: 16px/1.5 var(--serif);
}
.examples {
  padding: var(--gap-4) var(--gap-5) 0;
}
.examples section {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr) minmax(0, 300px);
  gap: var(--gap-2) var(--gap-5);
  padding: var(--gap-3) 0;
  border-bottom: 1px solid var(--line);
}
h2 {
  font-size: 17px;
}
small {
  display: block;
  color: var(--quiet);
  font: 15px var(--serif);
}
.lines span {
  display: block;
  font: 17px/1.5 var(--serif);
}
.examples p {
  margin: 0;
}
.rather {
  color: var(--quiet);
  font: 17px/1.5 var(--serif);
}
@media (max-width: 800px) {
  .examples section {
    grid-template-columns: minmax(0, 1fr);
  }
  h1 {
    font-size: 26px;
  }
}
</style>
