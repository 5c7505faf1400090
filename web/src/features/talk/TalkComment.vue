<script setup lang="ts">
// One comment: who, when, what; one's own is changed and taken back where it stands.
import { ref } from 'vue'
import type { CommentTold } from '@/api/types'
import { useDoing } from '@/app/asking'
import FileList from '@/features/files/FileList.vue'
import TalkBox from './TalkBox.vue'
import TalkText from './TalkText.vue'
import type { Talk } from './talking'

const props = defineProps<{
  comment: CommentTold
  at: { tracker: number; table: number; record: number }
  talk: Talk
  /** Stewards take back what anybody said. */
  steward: boolean
}>()
const emit = defineEmits<{ answer: [] }>()
const changing = ref(false)
const { attempt, trouble } = useDoing()
const takeBack = () => attempt(() => props.talk.takeBack(props.comment.id))
</script>

<template>
  <article class="comment" :class="{ fresh: talk.fresh.value.has(comment.id), me: comment.to_me }" :data-comment="comment.id">
    <p class="top"
      ><b>{{ comment.who }}</b
      ><span v-if="talk.fresh.value.has(comment.id)" class="new">new</span><time :datetime="comment.at">{{ comment.at_text }}</time></p
    >
    <p v-if="comment.gone" class="quiet">took this back</p>
    <TalkBox
      v-else-if="changing"
      small
      :at="at"
      :draft="`change-${comment.id}`"
      label="What it says from now on"
      does="Change it"
      :before="comment.says"
      :brought="comment.files"
      :send="(said, beside) => talk.change(comment.id, said, beside)"
      @done="changing = false"
      @leave="changing = false"
    />
    <template v-else>
      <TalkText v-if="comment.says.length" :says="comment.says" :tracker="at.tracker" />
      <FileList :files="comment.files ?? []" />
    </template>
    <p v-if="!comment.gone && !changing && !talk.standing.value" class="acts">
      <span v-if="comment.changed" class="quiet">changed {{ comment.changed }}</span>
      <button type="button" class="link" data-test="talk-answer" @click="emit('answer')">Answer</button>
      <button v-if="comment.mine" type="button" class="link" data-test="talk-change" @click="changing = true">Change</button>
      <button v-if="comment.mine || steward" type="button" class="link" data-test="talk-take-back" @click="takeBack">Take back</button>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
  </article>
</template>

<style scoped>
.top {
  display: flex;
  gap: var(--gap-2);
  align-items: baseline;
  margin: 0;
}
time {
  margin-left: auto;
  font-size: 12.5px;
  color: var(--quiet);
}
.new {
  color: var(--copper);
  font-size: 12.5px;
}
.me {
  border-left: 3px solid var(--moss);
  padding-left: 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--gap-3);
  margin: 0;
  font-size: 12.5px;
}
.quiet {
  margin: 0;
}
@media (pointer: coarse) {
  .acts .link {
    min-height: 44px;
  }
}
</style>
