<script setup lang="ts">
// The area in which a tracker shall lie: one that there is, none, or a new one.
import { computed, ref } from 'vue'
import { api, told } from '@/api/client'
import { useAsked, useDoing } from '@/app/asking'
import PickOne from '@/features/menu/PickOne.vue'

const area = defineModel<number | null>({ required: true })
const areas = useAsked(['areas-to-choose'], () => told(api.GET('/api/team/areas')))
const { trouble, busy, attempt } = useDoing()
const NEW = -1
const making = ref(false)
const name = ref('')
const items = computed(() => [
  { value: null as number | null, title: 'no area' },
  ...(areas.told.value ?? []).map((one) => ({ value: one.id as number | null, title: one.name })),
  { value: NEW as number | null, title: 'a new one …' },
])
const opens = computed(() => areas.told.value?.find((one) => one.id === area.value)?.opens_say)

function choose(id: number | null) {
  making.value = id === NEW
  if (id !== NEW) area.value = id
}
async function make() {
  const done = await attempt(() => told(api.POST('/api/team/areas', { body: { name: name.value, about: '' } })))
  if (!done) return
  await areas.again()
  area.value = areas.told.value?.find((one) => one.name === name.value.trim().replace(/\s+/g, ' '))?.id ?? null
  making.value = false
  name.value = ''
}
</script>

<template>
  <div class="pick-area">
    <PickOne
      :model-value="making ? NEW : area"
      aria-label="The area in which it lies"
      data-test="area-pick"
      :items="items"
      @update:model-value="choose"
    />
    <p v-if="making" class="new">
      <input
        v-model="name"
        aria-label="The new area is called"
        placeholder="what it is called"
        data-test="new-area-name"
        @keydown.enter.prevent="make"
      />
      <v-btn size="small" variant="outlined" :disabled="!name.trim() || busy" data-test="make-area" @click="make">Make it</v-btn>
    </p>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <p v-if="opens" class="opens" data-test="area-opens">This area is open: {{ opens }}</p>
  </div>
</template>

<style scoped>
.pick-area {
  max-width: 420px;
}
.new {
  display: flex;
  gap: 8px;
  margin: 6px 0 0;
}
.new input {
  flex: 1;
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
  padding: 5px 8px;
}
.opens {
  margin: 4px 0 0;
  color: var(--copper);
  font-size: 13px;
}
</style>
