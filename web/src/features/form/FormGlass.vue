<script setup lang="ts">
// What a stranger sees of a form, as one designs it: the line one is at stays in sight.
import { nextTick, ref, watch } from 'vue'
import type { Form, FormDesign } from '@/api/types'
import { begun } from '@/form/answer'
import FormFrame from '@/form/FormFrame.vue'
import FormQuestion from '@/form/FormQuestion.vue'

const props = defineProps<{
  form: Form
  seen: FormDesign | undefined
  /** Pictures that were just chosen, by their ids. */
  fresh: Record<string, string>
  chosen: number | undefined
}>()
const glass = ref<HTMLElement>()
const viewOf = (field: number) => props.seen?.view.questions.find((q) => q.field === field)

watch(
  () => props.chosen,
  async () => {
    await nextTick()
    const box = glass.value
    const at = box?.querySelector<HTMLElement>('.chosen')
    if (box && at) box.scrollTop = at.offsetTop - box.clientHeight / 3
  },
)
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- one scrolls in it by keys -->
  <div ref="glass" class="glass" tabindex="0" role="region" aria-label="What a stranger sees">
    <FormFrame :appearance="form.appearance" :team="seen?.view.team" :link="form.link" :fresh="fresh" preview class="sheet">
      <h2 class="title">{{ form.title }}</h2>
      <p v-if="form.intro" class="intro">{{ form.intro }}</p>
      <div v-for="(question, place) in form.questions" :key="question.field" class="asked" :class="{ chosen: place === chosen }">
        <FormQuestion
          v-if="!question.hidden && viewOf(question.field)"
          :model-value="begun(viewOf(question.field)!)"
          :question="viewOf(question.field)!"
          preview
          inert
        />
      </div>
      <p class="send">{{ form.send_label }}</p>
    </FormFrame>
  </div>
</template>

<style scoped>
.glass {
  position: relative;
  overflow-y: auto;
  padding: 0 var(--gap-4) var(--gap-4);
}
.sheet {
  min-height: 0;
  border: 1px solid var(--line);
}
.title {
  margin: 16px 0 4px;
  font: 600 24px/1.25 var(--serif);
}
.intro {
  color: var(--quiet);
  font: 16px/1.5 var(--serif);
}
.asked {
  margin: 0 -20px;
  padding: 0 20px;
  border-left: 3px solid transparent;
}
.chosen {
  border-left-color: var(--moss);
  background: var(--moss-soft);
}
.send {
  margin: 20px 0 0;
  padding: 12px;
  border-radius: var(--corner);
  background: var(--moss);
  color: var(--moss-ink);
  font-weight: 600;
  text-align: center;
}
</style>
