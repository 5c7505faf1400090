<script setup lang="ts">
// What a role may do in one table: each right with its own reach, and fields that are hidden or only read.
import PickOne from '@/features/menu/PickOne.vue'
import { worded } from '@/features/menu/pick'
import { computed, ref, watch } from 'vue'
import { api, told } from '@/api/client'
import type { Condition, Reach, Table, TableRights } from '@/api/types'
import { pruned } from '@/features/condition/checks'
import ConditionEditor from '@/features/condition/ConditionEditor.vue'
import { useVocabulary } from '@/features/condition/vocabulary'
import { useTracker } from '@/features/tracker/tracker'

const { tracker: currentTracker } = useTracker()
const { vocabulary } = useVocabulary()

const props = defineProps<{ table: Table; rights: TableRights }>()
const emit = defineEmits<{ keep: [rights: TableRights]; leave: [] }>()

const rights = ref<TableRights>(JSON.parse(JSON.stringify(props.rights)) as TableRights)
const RIGHTS = [
  ['look', 'May see'],
  ['change', 'May change'],
  ['remove', 'May remove'],
] as const
type RightName = (typeof RIGHTS)[number][0]
const words = ref<Partial<Record<RightName, string>>>({})

const sort = (reach: Reach | undefined) => (typeof reach === 'object' ? 'where' : (reach ?? 'none'))
const reaches = computed(() => worded(vocabulary.value?.reaches, props.table.many).map((one) => ({ ...one, value: sort(one.value) })))

function setSort(right: RightName, next: string) {
  const like = rights.value.look
  rights.value[right] =
    next === 'where'
      ? { where: typeof like === 'object' ? structuredClone(JSON.parse(JSON.stringify(like.where)) as Condition) : { all: [] } }
      : (next as 'none' | 'all' | 'mine')
}

function condition(right: RightName): Condition | undefined {
  const reach = rights.value[right]
  return typeof reach === 'object' ? reach.where : undefined
}

async function say(right: RightName) {
  const now = condition(right)
  const tracker = currentTracker.value
  if (!now || !tracker) return
  const path = { tracker: tracker.id, table: props.table.id }
  const told_ = await told(
    api.POST('/api/trackers/{tracker}/tables/{table}/condition', { params: { path }, body: { condition: pruned(now) } }),
  ).catch(() => undefined)
  words.value[right] = told_?.text
}
watch(rights, () => RIGHTS.forEach(([right]) => void say(right)), { deep: true, immediate: true })

function setField(field: number, right: string) {
  const fields = { ...rights.value.fields }
  if (right === 'change') delete fields[field]
  else fields[field] = right as 'hidden' | 'read'
  rights.value.fields = fields
}

function release(field: number, on: boolean) {
  const rest = (rights.value.released ?? []).filter((f) => f !== field)
  rights.value.released = on ? [...rest, field] : rest
}

function keep() {
  const whole = JSON.parse(JSON.stringify(rights.value)) as TableRights
  for (const [right] of RIGHTS) {
    const reach = whole[right]
    if (typeof reach === 'object') reach.where = pruned(reach.where)
  }
  emit('keep', whole)
}
</script>

<template>
  <div class="rights">
    <div v-for="[right, name] in RIGHTS" :key="right" class="right">
      <label>
        {{ name }}
        <PickOne
          :model-value="sort(rights[right])"
          :data-test="`reach-${right}`"
          :items="reaches"
          @update:model-value="setSort(right, $event)"
        />
      </label>
      <template v-if="condition(right)">
        <p v-if="words[right]" class="says">{{ words[right] }}</p>
        <ConditionEditor :table="table" :model-value="condition(right)!" @update:model-value="rights[right] = { where: $event }" />
      </template>
    </div>
    <label class="add"><input v-model="rights.add" type="checkbox" /> May add {{ table.many }}</label>
    <details>
      <summary>Single fields</summary>
      <div v-for="field in table.fields" :key="field.id" class="field">
        <span>{{ field.name }}</span>
        <PickOne
          :model-value="rights.fields?.[field.id] ?? 'change'"
          :aria-label="field.name"
          :items="worded(vocabulary?.field_rights)"
          @update:model-value="setField(field.id, $event)"
        />
        <label v-if="field.kind.type === 'carried'" class="release">
          <input
            type="checkbox"
            :checked="rights.released?.includes(field.id)"
            @change="release(field.id, ($event.target as HTMLInputElement).checked)"
          />
          shown whatever it draws on
        </label>
      </div>
    </details>
    <div class="acts">
      <v-btn variant="text" @click="emit('leave')">Leave it</v-btn>
      <v-btn color="primary" data-test="keep-rights" @click="keep">Change access</v-btn>
    </div>
  </div>
</template>

<style scoped>
.rights {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-4);
  color: var(--ink);
  display: grid;
  gap: var(--gap-3);
  width: min(560px, 94vw);
  max-height: 76vh;
  overflow-y: auto;
}
.right > label {
  display: flex;
  gap: var(--gap-2);
  align-items: center;
  justify-content: space-between;
}
.says {
  font: 15px/1.5 var(--serif);
  color: var(--quiet);
  margin: 6px 0;
}
.add,
.release {
  display: flex;
  gap: 8px;
}
.field {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 10px;
  padding: 3px 0;
  align-items: center;
}
.release {
  grid-column: 1 / 3;
  color: var(--quiet);
  font-size: 13px;
}
summary {
  min-height: 24px;
  color: var(--moss);
  cursor: pointer;
}
.acts {
  display: flex;
  justify-content: flex-end;
  gap: var(--gap-2);
}
</style>
