<script setup lang="ts">
// The slip that answers why: at the spot where it was asked, with the trace of the real evaluation.
import { computed, defineAsyncComponent } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/features/session/session'
import { useTracker } from '@/features/tracker/tracker'
import BecauseTree from './BecauseTree.vue'
import TraceLines from './TraceLines.vue'
import { useWhy } from './why'

const { tracker: currentTracker } = useTracker()

const { spot, why, looks, because, access, trouble, way, goOn, mend, close } = useWhy()
const AccessWhy = defineAsyncComponent(() => import('@/features/access/AccessWhy.vue'))
const router = useRouter()
const at = computed(() => way.value[way.value.length - 1])
const field = computed(() =>
  currentTracker.value?.tables.find((t) => t.id === at.value?.table)?.fields.find((f) => f.id === at.value?.field),
)
const toHighlights = computed(() => ({ name: 'highlights', params: { tracker: at.value?.tracker, table: at.value?.table } }))
const { me } = useSession()
const standing = computed(() => !!me.value?.stands_in)
const mayChange = computed(() => currentTracker.value?.builds && field.value?.formula !== undefined)

function change() {
  const here = at.value
  if (!here) return
  close()
  void router.push({
    name: 'calculation',
    params: { tracker: here.tracker, table: here.table, field: here.field },
    query: { record: here.record },
  })
}
</script>

<template>
  <v-menu
    :model-value="!!spot"
    :target="spot && [spot.x, spot.y]"
    :close-on-content-click="false"
    :max-width="access ? 620 : 460"
    @update:model-value="close"
  >
    <section class="slip" role="dialog" aria-label="Why" data-test="why" tabindex="-1" @keydown.esc="close">
      <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
      <template v-else-if="why">
        <button v-if="way.length > 1" class="back" @click="goOn(undefined)">← back</button>
        <h3>
          <span class="quiet">{{ why.field }}</span> {{ why.text || 'nothing' }}
        </h3>
        <p class="how">{{ why.how }}</p>
        <p v-if="why.set" class="quiet">By {{ why.set }}.</p>
        <TraceLines
          :formula="why.formula"
          :with-values="why.with_values"
          :result="why.text"
          :steps="why.steps"
          :sources="why.sources"
          :table="at?.table"
          :record="at?.record"
          @ask="(cell) => at && goOn({ ...cell, tracker: at.tracker })"
        />
        <div v-if="looks?.lines.length && way.length === 1" class="looks" data-test="why-looks">
          <h4>It looks so</h4>
          <dl>
            <template v-for="(line, n) in looks.lines" :key="n">
              <dt>{{ line.looks }}</dt>
              <dd
                >by <router-link :to="toHighlights" @click="close">{{ line.by }}</router-link>, {{ line.when }}.
                <span v-for="other in line.others" :key="other" class="quiet">{{ other }} </span>
                <span v-if="!standing" class="mends"
                  ><button v-for="one in line.mends" :key="one.says" type="button" class="link" data-test="look-mend" @click="mend(one)">{{
                    one.says
                  }}</button></span
                ></dd
              >
            </template>
          </dl>
        </div>
        <button v-if="mayChange" class="change" @click="change">Change the formula</button>
      </template>
      <template v-else-if="access">
        <h3>{{ access.name }}</h3>
        <AccessWhy :about="access" :person="access.person" />
      </template>
      <template v-else-if="because">
        <template v-if="because.parts.length || because.found != null">
          <h3>{{ because.holds ? 'It is here because' : 'It is left out because' }}</h3>
          <BecauseTree :because="because" />
        </template>
        <h3 v-else>It is here because this view shows every record.</h3>
      </template>
      <p v-else class="quiet">…</p>
    </section>
  </v-menu>
</template>

<style scoped>
.slip {
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  padding: var(--gap-3) var(--gap-4);
  max-height: 70vh;
  overflow-y: auto;
  min-width: 300px;
  font-size: 13.5px;
}
h3 {
  font: 600 17px/1.35 var(--serif);
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}
h4 {
  font: 600 15px/1.4 var(--serif);
  margin: var(--gap-3) 0 2px;
  border-top: 1px solid var(--line);
  padding-top: var(--gap-2);
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 2px var(--gap-3);
  margin: 0;
}
dt {
  font-weight: 600;
  max-width: 150px;
}
dd {
  margin: 0;
}
.mends {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
}
h3 .quiet {
  font-weight: 400;
}
p {
  margin: 0 0 6px;
}
.how {
  font: 15px/1.45 var(--serif);
}
.back,
.change {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
  padding: 2px 0;
}
.change {
  margin-top: 6px;
  text-decoration: underline;
}
</style>
