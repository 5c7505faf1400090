<script setup lang="ts">
// Which records a link offers, and whether they are entered as lines.
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
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
const shown = computed(() => (target.value?.fields ?? []).filter((one) => !['files', 'button'].includes(one.kind.type)))
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
    <label class="shows">
      Here each {{ target.one }} shows
      <PickOne
        :model-value="offers.named ?? null"
        data-test="link-shows"
        :items="[{ value: null, title: 'what it is called by' }, ...named(shown)]"
        @update:model-value="put({ named: $event })"
      />
    </label>
    <details
      :open="
        offers.same.length > 0 || 'test' in (offers.condition as object) || ('all' in offers.condition && offers.condition.all.length > 0)
      "
    >
      <summary>Which {{ target.many }} can be linked</summary>
      <ConditionEditor :model-value="offers.condition" :table="target" @update:model-value="put({ condition: $event })" />
      <p class="same">
        only those whose
        <PickOne
          :model-value="same?.theirs ?? 0"
          aria-label="Their field"
          :items="[{ value: 0, title: '(no matter)' }, ...named(target.fields)]"
          @update:model-value="putSame(Number($event), same?.ours ?? others[0]?.id ?? 0)"
        />
        <template v-if="same">
          is the same as this record’s
          <PickOne
            :model-value="same.ours"
            aria-label="Own field"
            :items="named(props.others)"
            @update:model-value="putSame(same.theirs, Number($event))"
          />
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
