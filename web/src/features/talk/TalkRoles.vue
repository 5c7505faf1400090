<script setup lang="ts">
// The roles to which alone what is said of a table's records is told.
import { computed, nextTick, onMounted, ref } from 'vue'
import { api, told } from '@/api/client'
import { useAsked } from '@/app/asking'

const props = defineProps<{ tracker: number; roles: number[]; many: string; trouble: string }>()
const emit = defineEmits<{ set: [roles: number[]]; close: [] }>()

const asked = useAsked(
  () => ['roles', props.tracker],
  () => told(api.GET('/api/trackers/{tracker}/roles', { params: { path: { tracker: props.tracker } } })),
)
// Stewards are told in any case.
const offered = computed(() => (asked.told.value ?? []).filter(({ role }) => role.base !== 'steward'))
const root = ref<HTMLElement>()
// It opens by a press elsewhere, and by keys one goes on in it.
onMounted(async () => {
  await nextTick()
  root.value?.focus({ preventScroll: true })
})
const turn = (role: number, on: boolean) => emit('set', on ? [...props.roles, role] : props.roles.filter((one) => one !== role))
</script>

<template>
  <div
    ref="root"
    class="popup pad"
    role="dialog"
    tabindex="-1"
    :aria-label="`To whom what is said of ${many} is told`"
    data-test="talk-roles"
  >
    <p class="quiet">What is said of {{ many }}, now and before, is told to stewards and to</p>
    <label v-for="{ role } in offered" :key="role.id">
      <input type="checkbox" :checked="roles.includes(role.id)" @change="turn(role.id, ($event.target as HTMLInputElement).checked)" />
      {{ role.name }}
    </label>
    <p class="quiet">alone; with none of them, to whoever sees the record.</p>
    <p v-if="trouble || asked.trouble.value" class="fault-text" role="alert">{{ trouble || asked.trouble.value }}</p>
    <p class="done"><v-btn variant="text" size="small" data-test="phrase-done" @click="emit('close')">Done</v-btn></p>
  </div>
</template>

<style scoped>
.pad:focus {
  outline: 0;
}
.pad {
  display: grid;
  gap: 4px;
  padding: var(--gap-3);
  max-width: 320px;
}
p {
  margin: 0;
}
label {
  display: flex;
  gap: 8px;
  min-height: 26px;
}
input {
  accent-color: var(--moss);
}
.done {
  text-align: right;
}
@media (pointer: coarse) {
  label {
    min-height: 40px;
  }
}
</style>
