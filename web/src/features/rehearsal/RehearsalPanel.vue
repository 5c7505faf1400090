<script setup lang="ts">
// The one panel in which anything is rehearsed: what would change, examples, then do it or leave it.
import { onMounted, ref } from 'vue'

const props = defineProps<{
  /** What is rehearsed: *Faults become links to Sections*. */
  title: string
  /** On the button that does it. */
  act: string
  /** It is being worked out, or done. */
  busy?: boolean
  /** It can't be done as it stands. */
  blocked?: boolean
  trouble?: string
  /** It opens by what somebody pressed elsewhere: the focus goes along, and it comes into sight. */
  opens?: boolean
}>()
const emit = defineEmits<{ act: []; leave: [] }>()
const panel = ref<HTMLElement>()
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
    <v-progress-linear v-if="busy" indeterminate color="primary" height="2" aria-label="Working" />
    <div class="body" aria-live="polite"><slot /></div>
    <p v-if="trouble" class="fault-text" role="alert" data-test="rehearsal-trouble">{{ trouble }}</p>
    <div class="acts">
      <v-btn color="primary" :disabled="busy || blocked" data-test="do-it" @click="emit('act')">{{ act }}</v-btn>
      <v-btn variant="text" data-test="leave-it" @click="emit('leave')">Leave it</v-btn>
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
