<script setup lang="ts">
// What a view is called and for, and whose it is.
import { ref } from 'vue'

const props = defineProps<{
  title: string
  does: string
  name: string
  about: string
  /** Whether one may choose whose it is; nothing: it stays whose it is. */
  chooses: boolean | undefined
}>()
const emit = defineEmits<{ keep: [words: { name: string; about: string; personal: boolean }]; leave: [] }>()

const name = ref(props.name)
const about = ref(props.about)
const personal = ref(true)
const keep = () => name.value.trim() && emit('keep', { name: name.value, about: about.value, personal: personal.value })
</script>

<template>
  <form class="naming boxed" @submit.prevent="keep">
    <h2>{{ title }}</h2>
    <label class="asked" for="view-name"
      >Name
      <v-text-field
        id="view-name"
        v-model="name"
        autofocus
        required
        maxlength="120"
        data-test="view-name"
        @focus="($event.target as HTMLInputElement).select()"
    /></label>
    <label class="asked" for="view-about"
      >What it is for
      <v-textarea id="view-about" v-model="about" rows="2" auto-grow maxlength="2000" data-test="view-about" />
    </label>
    <v-checkbox v-if="chooses" v-model="personal" label="Only for me" />
    <p v-else-if="chooses === false" class="quiet">It is yours alone; the team’s views are made by its builders.</p>
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn type="submit" color="primary" :disabled="!name.trim()">{{ does }}</v-btn>
    </div>
  </form>
</template>

<style scoped>
.naming {
  display: grid;
  gap: var(--gap-3);
  padding: var(--gap-5);
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
