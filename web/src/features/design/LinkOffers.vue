<script setup lang="ts">
// Which records a link offers, and whether they are entered as lines.
import { computed } from 'vue'
import type { FieldDef } from '@/api/types'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()

const props = defineProps<{ others: FieldDef[] }>()
const field = defineModel<FieldDef>({ required: true })

const target = computed(() => {
  const { kind } = field.value
  return kind.type === 'link' ? currentTracker.value?.tables.find((t) => t.id === kind.to) : undefined
})
const offers = computed(() => ({ condition: { all: [] }, same: [], lines: false, ...field.value.offers }))
const put = (change: object) => (field.value = { ...field.value, offers: { ...offers.value, ...change } })
const same = computed(() => offers.value.same[0])
const lines = computed(() => field.value.kind.type === 'link' && !field.value.kind.one)

function putSame(theirs: number, ours: number) {
  put({ same: theirs && ours ? [{ theirs, ours }] : [] })
}
</script>

<template>
  <section v-if="target" class="offers">
    <label v-if="lines"
      ><input
        type="checkbox"
        :checked="offers.lines"
        data-test="as-lines"
        @change="put({ lines: ($event.target as HTMLInputElement).checked })"
      />
      Its {{ target.many }} are entered as lines in the folio</label
    >
    <details
      :open="
        offers.same.length > 0 || 'test' in (offers.condition as object) || ('all' in offers.condition && offers.condition.all.length > 0)
      "
    >
      <summary>Which {{ target.many }} can be linked</summary>
      <ConditionEditor :model-value="offers.condition" :table="target" @update:model-value="put({ condition: $event })" />
      <p class="same">
        only those whose
        <select
          :value="same?.theirs ?? 0"
          aria-label="Their field"
          @change="putSame(Number(($event.target as HTMLSelectElement).value), same?.ours ?? others[0]?.id ?? 0)"
        >
          <option :value="0">(no matter)</option>
          <option v-for="one in target.fields" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
        <template v-if="same">
          is the same as this record’s
          <select
            :value="same.ours"
            aria-label="Own field"
            @change="putSame(same.theirs, Number(($event.target as HTMLSelectElement).value))"
          >
            <option v-for="one in props.others" :key="one.id" :value="one.id">{{ one.name }}</option>
          </select>
        </template>
      </p>
    </details>
  </section>
</template>

<style scoped>
.offers {
  border-top: 1px solid var(--line);
  padding-top: 6px;
}
.same {
  margin: 4px 0;
}
</style>
