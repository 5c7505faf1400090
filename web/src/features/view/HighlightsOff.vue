<script setup lang="ts">
// Which of the table's highlights are on in a view.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, told } from '@/api/client'
import type { HighlightView, Table } from '@/api/types'
import { useAsked } from '@/app/asking'
import { lookSaidAt } from '@/features/highlight/drafting'
import SaidPhrase from '@/features/highlight/SaidPhrase.vue'
import { useTracker } from '@/features/tracker/tracker'

const props = defineProps<{ table: Table; without: number[] }>()
const emit = defineEmits<{ change: [without: number[]] }>()
const route = useRoute()
const { tracker: currentTracker } = useTracker()
const asked = useAsked(
  () => ['highlights', currentTracker.value?.id, props.table.id],
  () =>
    told(
      api.GET('/api/trackers/{tracker}/tables/{table}/highlights', {
        params: { path: { tracker: currentTracker.value!.id, table: props.table.id } },
      }),
    ),
  (heard) => heard.structure,
)
const list = computed<HighlightView[]>(() => asked.told.value ?? [])
const toggle = (id: number) =>
  emit('change', props.without.includes(id) ? props.without.filter((one) => one !== id) : [...props.without, id])
const drafted = (one: HighlightView) => ({ condition: one.highlight.condition ?? { all: [] }, touches: one.highlight.touches ?? [] })
</script>

<template>
  <div class="off" data-test="highlights-off">
    <p v-if="asked.trouble.value" class="fault-text" role="alert">{{ asked.trouble.value }}</p>
    <p v-if="!list.length && !asked.waiting.value" class="quiet"
      >A highlight makes some {{ table.many }} look otherwise: those that are late, or done.</p
    >
    <label v-for="one in list" :key="one.highlight.id">
      <input
        type="checkbox"
        :checked="!without.includes(one.highlight.id)"
        :data-highlight="one.number"
        @change="toggle(one.highlight.id)"
      />
      <span
        ><b>{{ one.number }}</b
        >{{ ' '
        }}<template v-for="(phrase, n) in one.words.sentence" :key="n"
          ><SaidPhrase v-if="phrase.tone !== 'offer'" :phrase="phrase" :look="lookSaidAt(drafted(one), phrase.at ?? '')" /></template
      ></span>
    </label>
    <router-link
      class="link"
      data-test="to-highlights"
      :to="{ name: 'highlights', params: { tracker: currentTracker?.id, table: table.id }, query: { view: route.params.view } }"
      >{{ currentTracker?.builds ? (list.length ? `How ${table.many} look` : 'Add a highlight') : `How ${table.many} look` }}</router-link
    >
  </div>
</template>

<style scoped>
.off {
  display: grid;
  gap: var(--gap-2);
  max-width: 460px;
}
.link {
  justify-self: start;
  padding: 5px 0;
}
label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  cursor: pointer;
  font: 15px/1.45 var(--serif);
}
input {
  accent-color: var(--moss);
}
</style>
