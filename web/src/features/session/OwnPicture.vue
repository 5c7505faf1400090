<script setup lang="ts">
// One's own picture: it stands beside one's name wherever the team sees it.
import { useTemplateRef } from 'vue'
import { api, send, told } from '@/api/client'
import type { TeamDone } from '@/api/types'
import { useDoing } from '@/app/asking'
import FaceMark from '@/features/people/FaceMark.vue'
import { useSession } from './session'

defineProps<{ readonly: boolean }>()
const session = useSession()
const { me } = session
const doing = useDoing()
const picker = useTemplateRef<HTMLInputElement>('picker')

async function choose() {
  const file = picker.value?.files?.[0]
  if (!file) return
  await doing.attempt(async () => {
    const body = new FormData()
    body.append('file', file)
    await send<TeamDone>('/api/session/picture', body)
    await session.again()
  })
  // The same file can be chosen once more.
  if (picker.value) picker.value.value = ''
}
async function takeAway() {
  await doing.attempt(async () => {
    await told(api.DELETE('/api/session/picture'))
    await session.again()
  })
}
</script>

<template>
  <section v-if="me" aria-label="Your picture" class="picture">
    <FaceMark :person="me.person" :size="72" />
    <div>
      <p v-if="!readonly">
        <label class="pick"
          >{{ me.person.picture ? 'Choose another picture of you' : 'Choose a picture of you' }}
          <input
            ref="picker"
            type="file"
            accept="image/png,image/jpeg,image/webp,image/gif"
            :disabled="doing.busy.value"
            data-test="own-picture"
            @change="choose"
          />
        </label>
        <button v-if="me.person.picture" type="button" class="link" data-test="no-own-picture" @click="takeAway">No picture</button>
      </p>
      <p class="quiet">{{ me.person.picture ? 'The team sees it beside your name.' : 'Until then your initials stand for you.' }}</p>
      <p v-if="doing.trouble.value" class="fault-text" role="alert">{{ doing.trouble.value }}</p>
    </div>
  </section>
</template>

<style scoped>
.picture {
  display: flex;
  gap: var(--gap-4);
  align-items: center;
  margin: var(--gap-3) 0 var(--gap-4);
}
.picture p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--gap-3);
  align-items: center;
  margin: 0 0 2px;
}
.pick {
  display: inline-flex;
  align-items: center;
  position: relative;
  min-height: 40px;
  padding: 0 14px;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  cursor: pointer;
}
.pick:focus-within {
  outline: 2px solid var(--moss);
  outline-offset: 1px;
}
/* It is pressed and found by its label. */
.pick input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
</style>
