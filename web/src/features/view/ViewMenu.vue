<script setup lang="ts">
// The title of a view, and beneath it the table's other views; saving, naming, duplicating.
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Query, Table, View } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useSession } from '@/features/session/session'
import { useParts } from '@/features/tracker/parts'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()
const GiveView = defineAsyncComponent(() => import('@/features/access/GiveView.vue'))

const props = defineProps<{ tracker: number; table: Table; view: View | undefined; query: Query; changed: boolean }>()
const emit = defineEmits<{ saved: []; drop: []; save: []; trouble: [words: string] }>()

const router = useRouter()
const parts = useParts(() => props.tracker)
const { me } = useSession()
const { trouble, attempt } = useDoing()
watch(trouble, (words) => words && emit('trouble', words))
const naming = ref<'new' | 'rename'>()
const giving = ref(false)
const name = ref('')
const personal = ref(true)
const builds = computed(() => !!currentTracker.value?.builds)
const standing = computed(() => !!me.value?.stands_in)
const mayGive = computed(() => !!currentTracker.value?.steward && !standing.value && !!props.view && props.view.owner == null)
const mayShare = computed(() => !!currentTracker.value?.steward && !standing.value && !!props.view)
const maySave = computed(() => !!props.view && !standing.value && (props.view.owner != null || builds.value))

function begin(what: 'new' | 'rename') {
  naming.value = what
  name.value = what === 'rename' ? (props.view?.name ?? '') : `${props.view?.name ?? props.table.name}, mine`
  personal.value = what === 'rename' ? props.view?.owner != null : true
}

async function keepName() {
  const { tracker, table, query, view } = props
  await attempt(async () => {
    if (naming.value === 'rename' && view) {
      const body = { table: table.id, name: name.value, personal: view.owner != null, query: view.query }
      await parts.save('view', view.id, { view: body })
    } else {
      const body = { table: table.id, name: name.value, personal: personal.value, query }
      const done = await parts.make({ view: body })
      emit('saved')
      await router.push({ name: 'view', params: { tracker, table: table.id, view: done.made ?? undefined } })
    }
  })
  naming.value = undefined
}

/** A page for people outside that shows what this view shows; closed until it is opened there. */
async function share() {
  const { tracker, view } = props
  if (!view) return
  await attempt(async () => {
    const done = await parts.make({ page: { title: view.name, view: view.id } })
    await router.push({ name: 'page', params: { tracker, page: done.made! } })
  })
}

async function takeAway() {
  const { tracker, table, view } = props
  if (!view) return
  await attempt(async () => {
    await parts.drop('view', view.id)
    await router.push({ name: 'view', params: { tracker, table: table.id } })
  })
}
</script>

<template>
  <div class="title">
    <v-menu location="bottom start" offset="4">
      <template #activator="{ props: activator }">
        <h1>
          <button v-bind="activator" data-test="view-menu"
            >{{ view?.name ?? `All ${table.many}` }} <span aria-hidden="true" class="down">▾</span></button
          >
        </h1>
      </template>
      <div class="menu">
        <router-link
          v-for="one in table.views"
          :key="one.id"
          :to="{ name: 'view', params: { tracker, table: table.id, view: one.id } }"
          :class="{ here: one.id === view?.id }"
        >
          {{ one.name }}<span v-if="one.owner" class="quiet">, yours</span
          ><span v-else-if="one.given?.length" class="quiet">, given to {{ one.given.length }}</span>
        </router-link>
        <template v-if="!standing">
          <hr />
          <button v-if="maySave" @click="begin('rename')">Rename this view</button>
          <button data-test="duplicate-view" @click="begin('new')">Duplicate this view</button>
          <button v-if="mayGive" data-test="give-this-view" @click="giving = true">Give it to somebody</button>
          <button v-if="mayShare" data-test="share-outside" @click="share">Share it outside</button>
          <button v-if="maySave && table.views.length > 1" @click="takeAway">Take this view away</button>
        </template>
      </div>
    </v-menu>
    <span v-if="changed" class="unsaved" data-test="unsaved">
      changed by you
      <button v-if="maySave" data-test="save-view" @click="emit('save')">Save</button>
      <button v-if="!standing" data-test="save-view-as" @click="begin('new')">Save as a new view</button>
      <button @click="emit('drop')">Drop changes</button>
    </span>
    <v-dialog v-model="giving" max-width="560" aria-label="Give this view to somebody">
      <GiveView v-if="view" :table="table" :view="view" @done="giving = false" @leave="giving = false" />
    </v-dialog>
    <v-dialog
      :model-value="!!naming"
      max-width="420"
      :aria-label="naming === 'rename' ? 'Rename this view' : 'Keep this as a view'"
      @update:model-value="naming = undefined"
    >
      <form class="naming" @submit.prevent="keepName">
        <h2>{{ naming === 'rename' ? 'Rename this view' : 'Keep this as a view' }}</h2>
        <label class="asked" for="view-name"
          >Name
          <v-text-field
            id="view-name"
            v-model="name"
            autofocus
            required
            maxlength="120"
            data-test="view-name"
            @focus="($event.target as HTMLInputElement).select()"
        /></label>
        <v-checkbox v-if="naming === 'new' && builds" v-model="personal" label="Only for me" />
        <p v-else-if="naming === 'new'" class="quiet">It is yours alone; the team’s views are made by its builders.</p>
        <div class="acts">
          <v-btn variant="text" @click="naming = undefined">Leave it</v-btn>
          <v-btn type="submit" color="primary" :disabled="!name.trim()">{{ naming === 'rename' ? 'Rename view' : 'Keep view' }}</v-btn>
        </div>
      </form>
    </v-dialog>
  </div>
</template>

<style scoped>
.title {
  display: flex;
  align-items: baseline;
  gap: var(--gap-4);
  flex-wrap: wrap;
}
h1 {
  font-size: 27px;
}
h1 button {
  font: inherit;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  text-align: left;
}
.down {
  color: var(--quiet);
  font-size: 15px;
}
.menu,
.naming {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-3);
  color: var(--ink);
}
.menu {
  display: grid;
  min-width: 230px;
}
.menu a,
.menu button {
  padding: 5px 4px;
  text-align: left;
  border: 0;
  background: none;
  color: inherit;
  text-decoration: none;
  cursor: pointer;
}
.menu :is(a, button):hover {
  color: var(--moss);
}
.menu .here {
  font-weight: 600;
}
hr {
  border: 0;
  border-top: 1px solid var(--line);
  width: 100%;
}
.unsaved {
  color: var(--copper);
  font-size: 13px;
  display: inline-flex;
  gap: var(--gap-3);
}
.unsaved button {
  border: 0;
  background: none;
  color: var(--copper);
  text-decoration: underline;
  cursor: pointer;
  padding: 0;
}
.naming {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-5);
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
