<script setup lang="ts">
// Whose it is that is looked for: anybody's, or what names one person, what they made and what they said something of.
import { computed, ref } from 'vue'
import PickList, { type Pick } from '@/features/cell/PickList.vue'

const props = defineProps<{ person?: number; people: readonly Pick[] }>()
const emit = defineEmits<{ choose: [person: number | undefined] }>()

const ANYBODY: Pick = { id: 0, name: 'anybody' }
const open = ref(false)
const all = computed(() => [ANYBODY, ...props.people])
const chosen = computed(() => all.value.find((one) => one.id === (props.person ?? 0)) ?? { id: 0, name: 'somebody' })
/** Those whose name has a word that begins so. */
function called(text: string) {
  const wanted = text.trim().toLocaleLowerCase()
  const fits = (one: Pick) => one.name.toLocaleLowerCase().startsWith(wanted) || one.name.toLocaleLowerCase().includes(` ${wanted}`)
  return Promise.resolve(all.value.filter(fits))
}
function choose(person?: number) {
  open.value = false
  emit('choose', person || undefined)
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom end">
    <template #activator="{ props: menu }">
      <button type="button" class="link" v-bind="menu" data-test="find-of">of {{ chosen.name }}</button>
    </template>
    <div class="popup whom" role="dialog" aria-label="Of whom">
      <PickList label="Of whom" :search="called" :chosen="[chosen]" @pick="([one]) => choose(one)" @cancel="open = false" />
      <p class="quiet">What names them, what they made, and what they said something of.</p>
    </div>
  </v-menu>
</template>

<style scoped>
.whom {
  width: min(320px, 92vw);
}
/* One frame is enough. */
.whom :deep(.pick) {
  border: 0;
}
p {
  margin: 0;
  padding: 6px var(--gap-3);
  font-size: 13px;
}
</style>
