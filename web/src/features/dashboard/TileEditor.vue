<script setup lang="ts">
// A tile while it is changed, beside its page, on which it is drawn anew with each change. What it looks into is opened here, so that
// its phrases are edited as a view’s are.
import { computed, onMounted, onScopeDispose, ref, watch } from 'vue'
import type { Tile, TileShows } from '@/api/types'
import PickOne from '@/features/menu/PickOne.vue'
import { makeTracker, provideTracker } from '@/features/tracker/tracker'
import StatementEditor from './StatementEditor.vue'
import ViewEditor from './ViewEditor.vue'

const props = defineProps<{ tile: Tile; columns: number; busy: boolean; trouble: string; isNew: boolean }>()
const emit = defineEmits<{ change: [tile: Tile]; keep: []; leave: [] }>()
const context = provideTracker(makeTracker())
const tracker = computed(() => ('tracker' in props.tile.shows ? props.tile.shows.tracker : undefined))
watch(tracker, (id) => id !== undefined && void context.open(id), { immediate: true })
onScopeDispose(() => context.leave())

const box = ref<HTMLElement>()
onMounted(() => box.value?.querySelector<HTMLElement>('input')?.focus())
const put = (part: Partial<Tile>) => emit('change', { ...props.tile, ...part })
const shows = (next: TileShows) => put({ shows: next })
const text = computed(() => (props.tile.shows.as === 'text' ? props.tile.shows.text : ''))
</script>

<template>
  <aside ref="box" class="tile-editor" :aria-label="isNew ? 'Something new for the page' : 'Change this'" data-test="tile-editor">
    <div class="top">
      <h2>{{ isNew ? 'Put on the page' : 'Change this' }}</h2>
    </div>
    <v-text-field
      :model-value="tile.title ?? ''"
      aria-label="Title"
      placeholder="Title, if its sentence shall not be it"
      data-test="tile-title"
      hide-details
      @update:model-value="put({ title: $event })"
    />
    <v-textarea
      v-if="tile.shows.as === 'text'"
      :model-value="text"
      aria-label="Words"
      placeholder="What one should know"
      rows="6"
      auto-grow
      data-test="tile-text"
      hide-details
      @update:model-value="shows({ as: 'text', text: $event })"
    />
    <StatementEditor v-else-if="tile.shows.as === 'statement'" :statement="tile.shows" @change="shows({ ...$event, as: 'statement' })" />
    <ViewEditor v-else :view="tile.shows" @change="shows({ ...$event, as: 'view' })" />
    <p class="width"
      >It stands over
      <PickOne
        said
        :model-value="tile.width"
        aria-label="Columns"
        data-test="tile-width"
        :items="Array.from({ length: columns }, (_, n) => ({ value: n + 1, title: n ? `${n + 1} columns` : 'one column' }))"
        @update:model-value="put({ width: $event })"
      />
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p class="acts">
      <v-btn color="primary" :loading="busy" data-test="tile-keep" @click="emit('keep')">{{
        isNew ? 'Put it on the page' : 'Keep it so'
      }}</v-btn>
      <v-btn variant="text" data-test="tile-leave" @click="emit('leave')">Leave it</v-btn>
    </p>
  </aside>
</template>

<style scoped>
.tile-editor {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
  padding: var(--gap-4);
  border-left: 1px solid var(--line-strong);
  background: var(--sheet);
  overflow-y: auto;
}
h2 {
  margin: 0;
  font: 600 19px/1.3 var(--serif);
}
p {
  margin: 0;
}
.width {
  font: 16px/1.6 var(--serif);
}
.acts {
  display: flex;
  gap: var(--gap-2);
}
</style>
