<script setup lang="ts">
// Whose it is that is looked for: anybody's, or what names one person, what they made and what they said something of.
import { computed, ref } from 'vue'

const props = defineProps<{ person?: number; people: readonly { id: number; name: string }[] }>()
const emit = defineEmits<{ choose: [person: number | undefined] }>()

const open = ref(false)
const name = computed(() => props.people.find((one) => one.id === props.person)?.name ?? 'somebody')
const items = computed(() => [{ id: 0, name: 'anybody' }, ...props.people])
function choose(person: number | null) {
  open.value = false
  emit('choose', person || undefined)
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" location="bottom end">
    <template #activator="{ props: menu }">
      <button type="button" class="link" v-bind="menu" data-test="find-of">of {{ person ? name : 'anybody' }}</button>
    </template>
    <div class="popup whom" role="dialog" aria-label="Of whom">
      <v-autocomplete
        :model-value="person ?? 0"
        :items="items"
        item-value="id"
        item-title="name"
        autofocus
        auto-select-first
        label="Of whom"
        no-data-text="Nobody here is called like that."
        data-test="find-whom"
        @update:model-value="choose"
      />
      <p class="quiet">What names them, what they made, and what they said something of.</p>
    </div>
  </v-menu>
</template>

<style scoped>
.whom {
  width: min(320px, 92vw);
  padding: var(--gap-3);
}
p {
  margin: 6px 0 0;
  font-size: 13px;
}
</style>
