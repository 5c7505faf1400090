<script setup lang="ts">
// Moving records to another lane without carrying them: each lane with what it would do there, told beforehand.
import { onMounted, ref } from 'vue'
import { saying } from '@/api/client'
import type { MoveRehearsal, Value } from '@/api/types'
import { isSame } from '../layout'
import type { Lane } from './lanes'

const props = defineProps<{
  lanes: readonly Lane[]
  /** What is moved, in words. */
  what: string
  records: readonly number[]
  /** The lane it is in, where it is one. */
  from: Value | undefined
  /** What a lane without a value is of. */
  of: string
  rehearse: (records: number[], to: Value) => Promise<MoveRehearsal>
}>()
const emit = defineEmits<{ put: [to: Value]; leave: [] }>()

const told = ref<Record<string, string>>({})
/** Most lanes of which it is told beforehand. */
const TOLD = 12

const isFrom = (lane: Lane) => props.from !== undefined && isSame(lane.group.value, props.from)

onMounted(() => {
  for (const lane of props.lanes.filter((one) => !isFrom(one)).slice(0, TOLD)) {
    props
      .rehearse([...props.records], lane.group.value)
      .then((answer) => answer.says.slice(1).join(' '))
      .catch(saying)
      .then((words) => (told.value = { ...told.value, [lane.head.key]: words }))
  }
})
</script>

<template>
  <div class="move">
    <header>
      <h3>Move to</h3>
      <button type="button" class="link" data-test="leave-move" @click="emit('leave')">leave it</button>
    </header>
    <p class="quiet">{{ what }}</p>
    <ul>
      <li v-for="lane in lanes" :key="lane.head.key">
        <button
          type="button"
          :disabled="isFrom(lane)"
          :data-to="lane.group.text"
          :style="{ '--hue': lane.hue ?? 'var(--line-strong)' }"
          @click="emit('put', lane.group.value)"
        >
          <b>{{ lane.group.text || `no ${of}` }}</b>
          <span class="quiet">{{ isFrom(lane) ? 'here' : told[lane.head.key] }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.move {
  padding: var(--gap-3) var(--gap-4);
  max-height: min(70vh, 560px);
  overflow: auto;
}
header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
h3 {
  font: 600 18px var(--serif);
  margin: 0;
}
p {
  margin: 0 0 var(--gap-2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--line);
}
li button {
  display: grid;
  grid-template-columns: minmax(84px, max-content) minmax(0, 1fr);
  gap: var(--gap-3);
  align-items: center;
  width: 100%;
  min-height: 44px;
  border: 0;
  border-left: 3px solid var(--hue);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  padding: 4px 8px;
  cursor: pointer;
}
li button:disabled {
  cursor: default;
}
li button:not(:disabled):hover {
  background: var(--moss-soft);
}
li span {
  font-size: 13px;
}
</style>
