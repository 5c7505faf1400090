<script setup lang="ts">
// Home is a short report: per area the trackers, each with what happened since one last looked.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import type { Stage, TrackerLine } from '@/api/types'
import { useAsked } from '@/app/asking'
import { iconOf } from '@/app/icons'
import { useSession } from '@/features/session/session'

const { told: trackers, trouble } = useAsked(['trackers'], () => told(api.GET('/api/trackers')))
const search = ref('')
const { me } = useSession()
// The team's owners know of every tracker, so that none is without somebody.
const { told: others } = useAsked(
  () => ['other-trackers', me.value?.owns && !me.value.stands_in],
  () => (me.value?.owns && !me.value.stands_in ? told(api.GET('/api/trackers/others')) : Promise.resolve([])),
)

const found = computed(() => {
  const text = search.value.trim().toLowerCase()
  return (trackers.value ?? []).filter((t) => !text || `${t.name} ${t.description} ${t.area}`.toLowerCase().includes(text))
})
/** Those that are out of the way, beneath the others. */
const OUT: Partial<Record<Stage, string>> = { away: 'Put away', removed: 'Removed' }
const out = computed(() =>
  (Object.keys(OUT) as Stage[])
    .map((stage) => ({ name: OUT[stage]!, lines: found.value.filter((tracker) => tracker.stage === stage) }))
    .filter((one) => one.lines.length),
)
const areas = computed(() => {
  const byArea = new Map<string, TrackerLine[]>()
  for (const tracker of found.value.filter((one) => !OUT[one.stage]))
    byArea.set(tracker.area, [...(byArea.get(tracker.area) ?? []), tracker])
  return [...byArea]
})
</script>

<template>
  <section class="home">
    <div class="head">
      <div>
        <p class="over">{{ me?.team }}</p>
        <h1>Your trackers</h1>
      </div>
      <div class="acts">
        <v-btn variant="text" :to="{ name: 'people' }" data-test="people">People</v-btn>
        <v-btn v-if="!me?.stands_in" color="primary" :to="{ name: 'start' }" data-test="start">Start a tracker</v-btn>
      </div>
    </div>
    <input
      v-if="(trackers?.length ?? 0) > 3"
      v-model="search"
      class="find"
      aria-label="Find a tracker"
      placeholder="Find a tracker"
      data-test="find-tracker"
    />
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-else-if="trackers && !trackers.length" class="quiet">
      No tracker is open to you yet. Start one, or ask the person who runs one to give you a role in it.
    </p>
    <p v-else-if="trackers && !found.length" class="quiet">No tracker is called like that.</p>
    <div v-for="[area, lines] in areas" :key="area" class="area">
      <h2>{{ area || 'In no area yet' }}</h2>
      <p v-for="line in lines" :key="line.id" class="line">
        <v-icon :icon="iconOf(line.icon)" size="22" :style="{ color: line.hue ? `var(--${line.hue})` : undefined }" aria-hidden="true" />
        <span class="words">
          <span
            ><router-link :to="{ name: 'tracker', params: { tracker: line.id } }">{{ line.name }}</router-link
            ><em v-if="line.stage_word">{{ line.stage_word }}</em></span
          >
          <span v-if="line.description">{{ line.description }}</span>
          <span class="quiet">{{
            line.news ? `Since you last looked: ${line.news}.` : line.holds ? `${line.holds}.` : 'Nothing in it yet.'
          }}</span>
        </span>
      </p>
    </div>
    <details v-for="one in out" :key="one.name" class="area" data-test="out">
      <summary>{{ one.name }}: {{ one.lines.length }}</summary>
      <p v-for="line in one.lines" :key="line.id" class="gone"
        ><router-link :to="{ name: 'tracker', params: { tracker: line.id } }">{{ line.name }}</router-link>
        <span class="quiet">{{ line.holds }}</span></p
      >
    </details>
    <details v-if="others?.length" class="area" data-test="others">
      <summary>Trackers of the team that you do not work in: {{ others.length }}</summary>
      <p v-for="line in others" :key="line.id" class="gone">
        <b>{{ line.name }}</b>
        <span class="quiet">
          {{ line.size }}, {{ line.stewards.length ? `run by ${line.stewards.join(', ')}` : 'run by nobody any more'
          }}{{ line.last ? `, last looked at ${line.last}` : '' }}
        </span>
      </p>
    </details>
  </section>
</template>

<style scoped>
.home {
  max-width: 760px;
  margin: 0 auto;
  padding: 48px var(--gap-5);
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2) var(--gap-3);
  align-items: center;
  justify-content: space-between;
}
.over {
  color: var(--quiet);
  font-size: 13px;
  margin: 0;
}
.acts {
  display: flex;
  gap: var(--gap-2);
}
h1 {
  font-size: 30px;
}
.find {
  width: 100%;
  margin-top: var(--gap-3);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 6px 10px;
}
.area {
  margin-top: var(--gap-6);
}
h2 {
  font-size: 15px;
  color: var(--quiet);
  border-bottom: 1px solid var(--line);
  padding-bottom: var(--gap-1);
}
.line {
  display: flex;
  gap: var(--gap-3);
  margin: var(--gap-3) 0;
  font: 16px/1.5 var(--serif);
}
.words {
  display: grid;
}
@media (max-width: 700px) {
  .line a,
  .gone a,
  summary {
    display: inline-flex;
    align-items: center;
    min-height: 44px;
  }
}
em {
  margin-left: 10px;
  color: var(--copper);
  font-size: 15px;
}
summary {
  cursor: pointer;
  color: var(--quiet);
  font: 600 15px var(--serif);
}
.gone {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 8px 0;
}
.line a {
  font-size: 20px;
  font-weight: 600;
}
</style>
