<script setup lang="ts">
// Files as they are listed: pictures are shown, others named; all of them are looked at large.
import { computed, nextTick, ref } from 'vue'
import FileGlass from './FileGlass.vue'
import { addressOf, facts, isPicture, shownAs, type Attachment } from './files'

const props = defineProps<{
  files: readonly Attachment[]
  /** Whether one may take them out. */
  takes?: boolean
  /** Whether one who may also turns pictures. */
  turns?: boolean
  /** A picture is being turned. */
  busy?: boolean
}>()
const emit = defineEmits<{ takeOut: [file: Attachment]; turn: [file: Attachment, quarters: number] }>()

const pictures = computed(() => props.files.filter(isPicture))
const others = computed(() => props.files.filter((file) => !isPicture(file)))

// Looked at large: those that are files, in the order in which they stand.
const glass = ref<number>()
const looked = computed<Attachment[]>(() => [...pictures.value, ...others.value.filter((file) => shownAs(file) !== 'address')])
/** What one pressed to look: the keys go back there. */
let pressed: Element | null = null
function lookAt(file: Attachment) {
  pressed = document.activeElement
  glass.value = looked.value.findIndex((one) => one.id === file.id)
}
async function lookAway() {
  glass.value = undefined
  await nextTick()
  if (pressed instanceof HTMLElement) pressed.focus()
}
</script>

<template>
  <div v-if="pictures.length" class="pictures">
    <figure v-for="file in pictures" :key="file.id">
      <button type="button" class="look" :aria-label="`Look at ${file.name}`" @click="lookAt(file)">
        <img :src="addressOf(file, 'small')" :alt="file.name" />
      </button>
      <button v-if="takes" type="button" class="out" :aria-label="`Take out ${file.name}`" @click="emit('takeOut', file)">×</button>
    </figure>
  </div>
  <ul v-if="others.length" class="others">
    <li v-for="file in others" :key="file.id">
      <a v-if="shownAs(file) === 'address'" :href="file.id" target="_blank" rel="noreferrer noopener">{{ file.name }}</a>
      <a v-else-if="shownAs(file) === 'named'" :href="addressOf(file, 'keep')" :download="file.name">{{ file.name }}</a>
      <button v-else type="button" class="name" @click="lookAt(file)">{{ file.name }}</button>
      <span class="quiet">{{ facts(file) }}</span>
      <button v-if="takes" type="button" class="put" :aria-label="`Take out ${file.name}`" @click="emit('takeOut', file)">take out</button>
    </li>
  </ul>
  <FileGlass
    v-if="glass !== undefined"
    :model-value="glass"
    :files="looked"
    :turns="takes && turns"
    :busy="busy"
    @update:model-value="glass = $event"
    @turn="(file, quarters) => emit('turn', file, quarters)"
    @leave="lookAway"
  />
</template>

<style scoped>
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: var(--gap-2);
  margin-top: 6px;
}
figure {
  margin: 0;
  position: relative;
}
.look {
  padding: 0;
  border: 0;
  background: none;
  cursor: zoom-in;
}
img {
  display: block;
  height: 110px;
  max-width: 100%;
  border: 1px solid var(--line);
  border-radius: var(--corner);
}
.out {
  position: absolute;
  top: 4px;
  right: 4px;
  border: 0;
  border-radius: 50%;
  width: 24px;
  height: 24px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
}
.others {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
.others li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  column-gap: 10px;
  padding: 2px 0;
}
.put,
.name {
  display: inline-block;
  min-height: 24px;
  padding: 2px 4px;
  border: 0;
  background: none;
  color: var(--moss);
  font: 13px var(--sans);
  cursor: pointer;
}
.name {
  padding: 2px 0;
  font-size: 14px;
  text-align: left;
  text-decoration: underline;
  text-underline-offset: 2px;
}
.others a,
.name {
  overflow-wrap: anywhere;
}
</style>
