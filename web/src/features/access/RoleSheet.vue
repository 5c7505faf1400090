<script setup lang="ts">
// What a role is called and for whom it is; a new one begins plain, or as another role stands.
import { computed, onMounted, ref } from 'vue'
import type { Role } from '@/api/types'
import { useVocabulary } from '@/features/condition/vocabulary'
import PickOne from '@/features/menu/PickOne.vue'

type RoleDef = Role['role']

const props = defineProps<{
  /** The role that is named; none: a new one is made. */
  role?: RoleDef
  /** The roles there are, as which a new one may begin. */
  roles: readonly Role[]
}>()
const emit = defineEmits<{
  make: [role: Omit<RoleDef, 'id'>]
  keep: [change: { name: string; about: string }]
  double: []
  drop: []
  leave: []
}>()

const { vocabulary } = useVocabulary()
const box = ref<HTMLInputElement>()
onMounted(() => box.value?.focus())
const name = ref(props.role?.name ?? '')
const about = ref(props.role?.about ?? '')
/** As which it begins: what a plain one gives, or a role by its number. */
const begins = ref<RoleDef['base'] | number>('own')
const ways = computed(() => [
  ...(vocabulary.value?.bases ?? []).map((base) => ({ value: base.value as RoleDef['base'] | number, title: base.name, group: 'Plain' })),
  ...props.roles.map(({ role }) => ({
    value: role.id as RoleDef['base'] | number,
    title: `As ${role.name} stands`,
    group: 'As another role',
  })),
])

function keep() {
  if (!name.value.trim()) return
  const words = { name: name.value, about: about.value }
  if (props.role) return emit('keep', words)
  const other = props.roles.find(({ role }) => role.id === begins.value)?.role
  const plain = { base: begins.value as RoleDef['base'], tables: {} }
  emit('make', { ...words, ...(other ? { base: other.base, tables: other.tables } : plain), members: [], groups: [] })
}
</script>

<template>
  <form class="sheet" data-test="role-sheet" @submit.prevent="keep" @keydown.esc="emit('leave')">
    <label>Called <input ref="box" v-model="name" data-test="role-name" /></label>
    <label>For whom <input v-model="about" placeholder="in a few words" data-test="role-about" /></label>
    <p v-if="!role" class="begins">
      <span>It begins so:</span>
      <PickOne v-model="begins" said aria-label="As what it begins" data-test="role-begins" :items="ways" />
    </p>
    <p class="acts">
      <v-btn type="submit" color="primary" size="small" :disabled="!name.trim()" data-test="keep-role">{{
        role ? 'Keep' : 'Make the role'
      }}</v-btn>
      <v-btn variant="text" size="small" @click="emit('leave')">Leave it</v-btn>
      <template v-if="role">
        <button type="button" class="link" data-test="double-role" @click="emit('double')">Make another like it</button>
        <button type="button" class="link" data-test="drop-role" @click="emit('drop')">Take it away</button>
      </template>
    </p>
  </form>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: var(--gap-2);
  width: min(560px, calc(100vw - 32px));
  padding: var(--gap-3) var(--gap-4);
  border: 1px solid var(--line-strong);
  border-left: 3px solid var(--copper);
  border-radius: var(--corner);
  background: var(--sheet);
  color: var(--ink);
}
label {
  display: grid;
  grid-template-columns: 90px minmax(0, 1fr);
  align-items: center;
  font-size: 13.5px;
}
input {
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  background: var(--sheet);
  padding: 5px 10px;
}
p {
  margin: 0;
}
.begins,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px var(--gap-3);
  align-items: center;
}
@media (max-width: 700px) {
  input,
  .acts .link {
    min-height: 44px;
  }
}
</style>
