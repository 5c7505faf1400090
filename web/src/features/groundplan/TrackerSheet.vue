<script setup lang="ts">
// What a tracker is called, how it looks, and the area in which it lies.
import { ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { AreaMoves, Tracker } from '@/api/types'
import { useDoing } from '@/app/asking'
import { ICONS } from '@/app/icons'
import WhoMoves from '@/features/access/WhoMoves.vue'
import { useEdits } from '@/features/cell/edits'
import { useVocabulary } from '@/features/condition/vocabulary'
import AreaPick from '@/features/home/AreaPick.vue'
import { useTracker } from '@/features/tracker/tracker'

const { read: readTracker } = useTracker()
const { hues } = useVocabulary()

const props = defineProps<{ tracker: Tracker }>()
const emit = defineEmits<{ close: [] }>()
const edits = useEdits()
const { name, description, icon, hue } = props.tracker
const draft = ref({ name, description, icon, hue: hue ?? null })
const area = ref(props.tracker.area ?? null)
const moves = ref<AreaMoves>()
const { trouble, attempt } = useDoing()

const lies = (rehearse: boolean) =>
  told(api.PUT('/api/trackers/{tracker}/area', { params: { path: { tracker: props.tracker.id } }, body: { area: area.value, rehearse } }))

// Another area may be open to others: that is told before it holds.
watch(area, () =>
  attempt(async () => {
    moves.value = (await lies(true)).moves ?? undefined
  }),
)

const keep = () =>
  attempt(async () => {
    if (area.value !== (props.tracker.area ?? null)) await lies(false)
    const done = await told(api.PUT('/api/trackers/{tracker}', { params: { path: { tracker: props.tracker.id } }, body: draft.value }))
    edits.remember(props.tracker.id, done)
    await readTracker()
    emit('close')
  })
</script>

<template>
  <section class="sheet" aria-label="Name, area and looks">
    <label>Name <input v-model="draft.name" /></label>
    <label>What it is for <input v-model="draft.description" /></label>
    <div class="area">Area <AreaPick v-model="area" /></div>
    <div v-if="moves" class="moves" data-test="area-moves">
      <p>{{ moves.rehearsal.says.join(' ') }}</p>
      <WhoMoves :people="moves.rehearsal.people" :name="(table) => moves?.tables[String(table)] ?? ''" />
    </div>
    <p class="looks">
      <button
        v-for="(path, key) in ICONS"
        :key="key"
        type="button"
        :aria-label="`Sign: ${key}`"
        :class="{ at: draft.icon === key }"
        @click="draft.icon = String(key)"
        ><v-icon :icon="path" size="20"
      /></button>
      <button
        v-for="one in hues"
        :key="one"
        type="button"
        class="hue"
        :style="{ background: `var(--${one})` }"
        :aria-label="`Colour: ${one}`"
        :class="{ at: draft.hue === one }"
        @click="draft.hue = one"
      />
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <v-btn color="primary" size="small" :disabled="!draft.name.trim()" @click="keep">Keep</v-btn>
    <v-btn variant="text" size="small" @click="emit('close')">Leave it</v-btn>
  </section>
</template>

<style scoped>
.sheet {
  max-width: 560px;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  border-radius: var(--corner);
  padding: var(--gap-4);
  margin: var(--gap-3) 0;
}
label,
.area {
  display: block;
  margin: 6px 0;
  color: var(--quiet);
  font-size: 13px;
}
input {
  display: block;
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 5px 8px;
}
.looks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.looks button {
  border: 1px solid transparent;
  background: none;
  cursor: pointer;
  padding: 3px;
}
.looks .at {
  border-color: var(--ink);
}
.hue {
  width: 18px;
  height: 18px;
}
</style>
