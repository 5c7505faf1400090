<script setup lang="ts">
// How the team looks where it is seen from outside: its mark, its colour, its letterhead; shown as it will stand on paper and in a mail.
import { computed, onUnmounted, ref } from 'vue'
import { api, send, told } from '@/api/client'
import type { TeamDone, TeamLook } from '@/api/types'
import { useDoing } from '@/app/asking'
import { readable } from '@/form/colour'
import RehearsalPanel from '@/features/rehearsal/RehearsalPanel.vue'

const props = defineProps<{ name: string; look: TeamLook }>()
const emit = defineEmits<{ done: [done: TeamDone]; leave: [] }>()
const MOSS = '#4e5b1e'
const colour = ref(props.look.colour ?? null)
const words = ref(props.look.words ?? '')
/** The mark that stays; nothing: it is taken away. */
const stays = ref(!!props.look.mark)
const chosen = ref<{ file: File; address: string }>()
const { trouble, busy, attempt, at } = useDoing()
const mark = computed(
  () => chosen.value?.address ?? (stays.value && props.look.mark ? `/api/public/mark?${props.look.mark.id}` : undefined),
)
const accent = computed(() => readable(colour.value ?? MOSS))

const forget = () => chosen.value && URL.revokeObjectURL(chosen.value.address)
onUnmounted(forget)
function choose(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  forget()
  chosen.value = { file, address: URL.createObjectURL(file) }
}
function away() {
  forget()
  chosen.value = undefined
  stays.value = false
}
async function keep() {
  const done = await attempt(async () => {
    const same = colour.value === (props.look.colour ?? null) && words.value === (props.look.words ?? '')
    const look = { colour: colour.value, words: words.value, mark: stays.value }
    const done = same && chosen.value ? undefined : await told(api.PUT('/api/team/look', { body: look }))
    if (!chosen.value) return done
    const body = new FormData()
    body.append('file', chosen.value.file)
    return send<TeamDone>('/api/team/mark', body)
  })
  if (done) emit('done', done)
}
</script>

<template>
  <RehearsalPanel
    title="How the team looks from outside"
    act="Keep it so"
    :busy="busy"
    :trouble="trouble"
    @act="keep"
    @leave="emit('leave')"
  >
    <div class="look">
      <div class="set">
        <p>
          <label class="mark"
            >Its mark
            <input type="file" accept="image/png,image/jpeg,image/webp,image/gif" data-test="team-mark" @change="choose" />
          </label>
          <button v-if="mark" type="button" class="link" data-test="no-mark" @click="away">No mark</button>
        </p>
        <p>
          <label
            >Its colour
            <input
              type="color"
              :value="colour ?? MOSS"
              data-test="team-colour"
              @input="colour = ($event.target as HTMLInputElement).value"
            />
          </label>
          <button v-if="colour" type="button" class="link" data-test="no-colour" @click="colour = null">As it comes</button>
          <span v-if="colour && readable(colour) !== colour" class="quiet"
            >darkened to {{ accent }}, so that white words can be read on it</span
          >
        </p>
        <label class="letter"
          >Its letterhead, under its name
          <textarea v-model="words" rows="3" placeholder="where you are, how you are reached" data-test="team-words" />
        </label>
        <p v-if="at('/words') || at('/colour') || at('/mark')" class="fault-text" role="alert">{{
          at('/words') || at('/colour') || at('/mark')
        }}</p>
        <p class="quiet">It stands on forms and shared pages that have no look of their own, in mails, and at the head of documents.</p>
      </div>
      <div class="shown" aria-label="As it will look">
        <div class="paper">
          <div>
            <p class="name">{{ name }}</p>
            <p class="words">{{ words }}</p>
            <p class="title">Work order</p>
          </div>
          <img v-if="mark" :src="mark" alt="The mark" />
        </div>
        <div class="mail" :style="{ borderTopColor: accent }">
          <p class="name">{{ name }}</p>
          <p class="title">A message</p>
          <p class="answer" :style="{ color: accent, borderColor: accent }">I’ll go and look</p>
        </div>
      </div>
    </div>
  </RehearsalPanel>
</template>

<style scoped>
.look {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--gap-5);
}
.set {
  display: grid;
  gap: var(--gap-3);
  align-content: start;
}
p {
  margin: 0;
}
label {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-2);
  align-items: center;
}
.set p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: center;
}
.letter textarea {
  width: 100%;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: inherit;
  padding: 6px 8px;
}
/* Paper and mails are light, whatever the screen is. */
.shown {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--gap-3);
  align-items: start;
  color: #23261f;
}
.paper,
.mail {
  background: #fff;
  border: 1px solid var(--line-strong);
  padding: var(--gap-3);
}
.paper {
  display: flex;
  justify-content: space-between;
  gap: var(--gap-2);
  align-items: flex-end;
}
.paper img {
  height: 44px;
  max-width: 80px;
  object-fit: contain;
}
.mail {
  background: #f6f4ee;
  border-top: 4px solid;
}
.name,
.words {
  font-size: 12px;
  color: #5f6356;
  white-space: pre-line;
}
.words {
  font-size: 10.5px;
}
.title {
  font: 600 16px/1.3 var(--serif);
}
.answer {
  margin-top: 6px;
  border: 1px solid;
  border-radius: 3px;
  padding: 5px 8px;
  font-weight: 700;
  font-size: 12px;
}
@media (max-width: 800px) {
  .look {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
