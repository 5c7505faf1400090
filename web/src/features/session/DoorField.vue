<script setup lang="ts">
// One thing that is asked at the door, with what is wrong with it beneath.
import { useId } from 'vue'

defineProps<{
  label: string
  name: string
  type?: 'text' | 'email' | 'password'
  autocomplete?: string
  help?: string
  fault?: string
  /** What can be picked while one types. */
  offers?: readonly string[]
}>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <label class="asked" :for="id"
    >{{ label }}
    <v-text-field
      :id="id"
      v-model="value"
      :type="type ?? 'text'"
      :name="name"
      :autocomplete="autocomplete"
      :error-messages="fault ? [fault] : []"
      :hint="help"
      :persistent-hint="!!help"
      :list="offers && `${id}-offers`"
      required
  /></label>
  <datalist v-if="offers" :id="`${id}-offers`"><option v-for="one in offers" :key="one" :value="one" /></datalist>
</template>
