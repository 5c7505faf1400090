<script setup lang="ts">
// What stands down a cross-tab and across it, what is told apart within, and how its cells are read.
import { computed } from 'vue'
import type { CrossShape, Table } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'
import { named, worded } from '@/features/menu/pick'
import GroupsEditor from '../GroupsEditor.vue'

const props = defineProps<{
  shape: CrossShape
  table: Table
  /** The fields that can stand down and across. */
  by: readonly number[]
  /** The first figure of the view, as it is said after a number. */
  figure?: string
  /** It is of a shared page. */
  outside?: boolean
}>()
const emit = defineEmits<{ change: [shape: CrossShape] }>()
const { vocabulary } = useVocabulary()
const put = (part: Partial<CrossShape>) => emit('change', { ...props.shape, ...part })

/** Most fields one within the other, and most options that are told apart within a cell. */
const LEVELS = 2
const WITHIN = 12
const within = computed(() => {
  const few = props.table.fields.filter((field) => field.shows.type === 'choice' && field.shows.options.length <= WITHIN)
  return [{ value: null, title: 'nothing' }, ...named(few)]
})
const leads = computed(() => [
  { value: 'count' as const, title: `how many ${props.table.many} there are` },
  { value: 'figure' as const, title: props.figure ?? 'the first figure' },
])
</script>

<template>
  <div class="cross-says">
    <section>
      <h3>down</h3>
      <GroupsEditor
        :table="table"
        :groups="shape.down"
        :most="LEVELS"
        :among="by"
        hint="Down by …"
        data-test="cross-down"
        @change="$event.length && put({ down: $event })"
      />
    </section>
    <section>
      <h3>across</h3>
      <GroupsEditor
        :table="table"
        :groups="shape.across ?? []"
        :most="LEVELS"
        :among="by"
        hint="Across by …"
        data-test="cross-across"
        @change="put({ across: $event })"
      />
    </section>
    <p
      >within each cell
      <PickOne
        said
        :model-value="shape.within ?? null"
        aria-label="Told apart within"
        data-test="cross-within"
        :items="within"
        @update:model-value="put({ within: $event })"
      />
      told apart; read first
      <PickOne
        said
        :model-value="shape.leads ?? 'count'"
        aria-label="Read first"
        data-test="cross-leads"
        :items="figure ? leads : leads.slice(0, 1)"
        @update:model-value="put({ leads: $event })"
      />, what stands down
      <PickOne
        said
        :model-value="shape.order ?? 'field'"
        aria-label="Order"
        data-test="cross-order"
        :items="worded(vocabulary?.cross_orders)"
        @update:model-value="put({ order: $event })"
      />, with shares
      <PickOne
        said
        :model-value="shape.share ?? 'none'"
        aria-label="Shares"
        data-test="cross-share"
        :items="worded(vocabulary?.cross_shares)"
        @update:model-value="put({ share: $event })"
      />
    </p>
    <label
      ><input type="checkbox" :checked="shape.empty" @change="put({ empty: ($event.target as HTMLInputElement).checked })" /> show what no
      {{ table.one }} has, thin</label
    >
    <label v-if="!outside"
      ><input type="checkbox" :checked="shape.heat" @change="put({ heat: ($event.target as HTMLInputElement).checked })" /> the more a cell
      holds, the deeper its ground</label
    >
  </div>
</template>

<style scoped>
.cross-says {
  display: grid;
  gap: var(--gap-2);
}
section {
  display: grid;
  grid-template-columns: 60px minmax(0, 1fr);
  align-items: start;
}
h3 {
  margin: 6px 0 0;
  font: italic 15px var(--serif);
  color: var(--quiet);
}
p {
  margin: 0;
  font: 16px/1.6 var(--serif);
}
label {
  font-size: 13px;
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
