<script setup lang="ts">
// The one panel in which anything is rehearsed: what would change, examples, then do it or leave it.
import { computed, onMounted, ref } from 'vue'
import type { HowFar } from '@/api/types'
import { figure } from '@/theme/own'

const props = defineProps<{
  /** What is rehearsed: *Faults become links to Sections*. */
  title: string
  /** On the button that does it. */
  act: string
  /** It is being worked out, or done. */
  busy?: boolean
  /** How far it has come that it is being worked out or done. */
  far?: HowFar
  /** What so many of so many are, while it goes on: *that follow are worked out*. */
  counts?: string
  /** It is being done, and may be stopped. */
  stops?: boolean
  /** It can't be done as it stands. */
  blocked?: boolean
  trouble?: string
  /** It opens by what somebody pressed elsewhere: the focus goes along, and it comes into sight. */
  opens?: boolean
}>()
const emit = defineEmits<{ act: []; leave: []; stop: [] }>()
const panel = ref<HTMLElement>()
const share = computed(() => (props.far?.of ? (100 * props.far.done) / props.far.of : undefined))
const says = computed(() => {
  if (!props.far) return ''
  if (!props.far.of) return 'It waits for its turn.'
  if (props.stops && !props.counts && props.far.done === props.far.of) return 'All of it is worked out, and is being kept.'
  return `${figure(props.far.done)} of ${figure(props.far.of)} ${props.counts ?? 'that follow are worked out'}.`
})
onMounted(() => {
  if (!props.opens) return
  panel.value?.focus({ preventScroll: true })
  panel.value?.scrollIntoView?.({ block: 'nearest' })
})
</script>

<template>
  <section ref="panel" class="rehearsal" tabindex="-1" aria-label="Rehearsal" data-test="rehearsal">
    <div class="head">
      <p class="over">Rehearsal: nothing has been changed yet</p>
      <h2>{{ title }}</h2>
    </div>
    <v-progress-linear
      v-if="busy"
      :indeterminate="share === undefined"
      :model-value="share"
      color="primary"
      height="2"
      aria-label="How far it has come"
    />
    <p v-if="busy && says" class="far" role="status" data-test="how-far">{{ says }}</p>
    <div class="body" aria-live="polite"><slot /></div>
    <p v-if="trouble" class="fault-text" role="alert" data-test="rehearsal-trouble">{{ trouble }}</p>
    <div class="acts">
      <v-btn color="primary" :disabled="busy || blocked" data-test="do-it" @click="emit('act')">{{ act }}</v-btn>
      <v-btn v-if="busy && stops && far" variant="text" data-test="stop-it" @click="emit('stop')">Stop it</v-btn>
      <v-btn v-else variant="text" data-test="leave-it" @click="emit('leave')">Leave it</v-btn>
      <slot name="more" />
    </div>
  </section>
</template>

<style scoped>
.rehearsal {
  /* The line that says what was done last never lies over what is to be done. */
  position: relative;
  z-index: 7;
  border-top: 3px solid var(--copper);
  background: var(--sheet);
  padding: var(--gap-3) var(--gap-5) var(--gap-4);
}
.over {
  margin: 0;
  color: var(--copper);
  font-size: 12.5px;
}
.far {
  margin: var(--gap-1) 0;
  color: var(--quiet);
  font-size: 13px;
}
.rehearsal:focus {
  outline: 0;
}
h2 {
  font-size: 18px;
}
.body {
  margin: var(--gap-2) 0;
}
.acts {
  /* However much there is to tell, what is to be decided stays in sight. */
  position: sticky;
  /* What the panel leaves free at its foot is theirs: else they would lie over the last line. */
  bottom: calc(-1 * var(--gap-4));
  background: var(--sheet);
  padding: 4px 0 var(--gap-4);
  margin-bottom: calc(-1 * var(--gap-4));
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-3);
  align-items: center;
}
</style>
