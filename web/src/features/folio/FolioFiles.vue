<script setup lang="ts">
// The files of a record: pictures are shown, others named.
import { computed } from 'vue'
import { send } from '@/api/client'
import type { components } from '@/api/schema'
import type { Cell, Field, Input } from '@/api/types'
import { useDoing } from '@/app/asking'
import { files } from '@/features/cell/kinds'
import { useEdits } from '@/features/cell/edits'

const props = defineProps<{
  at: { tracker: number; table: number; record: number }
  field: Field
  cell: Cell | null | undefined
  change: boolean
}>()
const emit = defineEmits<{ changed: []; commit: [input: Input] }>()

const edits = useEdits()
const list = computed(() => files(props.cell))
const { trouble, busy, attempt } = useDoing()
const may = computed(() => props.change && props.field.writes)

async function put(event: Event) {
  const input = event.target as HTMLInputElement
  const body = new FormData()
  for (const file of input.files ?? []) body.append('file', file)
  await attempt(async () => {
    const { tracker, table, record } = props.at
    const done = await send<components['schemas']['Done']>(
      `/api/trackers/${tracker}/tables/${table}/records/${record}/files/${props.field.id}`,
      body,
    )
    edits.remember(tracker, done)
    emit('changed')
  })
  input.value = ''
}

function takeOut(id: string) {
  const rest = list.value.filter((file) => file.id !== id)
  emit('commit', { value: rest.length ? { files: rest } : 'empty' })
}
</script>

<template>
  <section class="files">
    <h3>
      {{ field.name }}
      <label v-if="may" class="put">
        {{ busy ? 'Sending …' : 'add' }}
        <input type="file" multiple accept="image/*,application/pdf" class="unseen" :disabled="busy" @change="put" />
      </label>
    </h3>
    <p v-if="trouble" class="fault-text" role="alert">{{ trouble }}</p>
    <div class="pictures">
      <figure v-for="file in list" :key="file.id">
        <a :href="`/api/files/${file.id}`" target="_blank" rel="noopener">
          <img v-if="file.media.startsWith('image/')" :src="`/api/files/${file.id}?small=true`" :alt="file.name" />
          <span v-else>{{ file.name }}</span>
        </a>
        <button v-if="may" :aria-label="`Take out ${file.name}`" @click="takeOut(file.id)">×</button>
      </figure>
    </div>
  </section>
</template>

<style scoped>
.files {
  margin-top: var(--gap-4);
}
h3 {
  font: 600 16px/1.4 var(--serif);
}
.put {
  display: inline-block;
  min-height: 24px;
  padding: 2px 4px;
  color: var(--moss);
  font: 13px var(--sans);
  cursor: pointer;
  margin-left: 6px;
}
.put:focus-within {
  outline: 2px solid var(--moss);
}
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
img {
  display: block;
  height: 110px;
  border: 1px solid var(--line);
  border-radius: var(--corner);
}
figure button {
  position: absolute;
  top: 4px;
  right: 4px;
  border: 0;
  border-radius: 50%;
  width: 22px;
  height: 22px;
  background: var(--sheet);
  color: var(--ink);
  cursor: pointer;
}
</style>
