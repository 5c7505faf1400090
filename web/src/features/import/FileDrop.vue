<script setup lang="ts">
// Choosing a file, by hand or by dropping it.
import { ref } from 'vue'
import { useDoing } from '@/app/asking'
import { upload, type Upload } from './importing'
import { fileOf } from './pasted'

const emit = defineEmits<{ taken: [upload: Upload] }>()
const { trouble, busy, attempt } = useDoing()
const over = ref(false)
/** How much of the file is sent, from 0 to 1. */
const share = ref(0)
let stopping = new AbortController()
const lines = ref('')

async function take(file: File | undefined) {
  if (!file) return
  share.value = 0
  stopping = new AbortController()
  const taken = await attempt(() => upload(file, (now) => (share.value = now), stopping.signal))
  if (taken) emit('taken', taken)
}
</script>

<template>
  <div
    class="drop"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="((over = false), take($event.dataTransfer?.files[0]))"
  >
    <label>
      <input
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.ods,.json,.jsonl,.ndjson"
        data-test="file"
        @change="take(($event.target as HTMLInputElement).files?.[0])"
      />
      <b>Choose a file</b> or drop it here
    </label>
    <p class="quiet">CSV, TSV, XLSX, ODS, JSON or JSON lines, up to 64 MB and 250,000 rows.</p>
    <details v-if="!busy">
      <summary>Or paste lines</summary>
      <textarea v-model="lines" rows="5" aria-label="Lines" placeholder="one record to a line" data-test="pasted-lines" />
      <v-btn size="small" :disabled="!lines.trim()" data-test="read-lines" @click="take(fileOf(lines))">Read them</v-btn>
    </details>
    <p v-if="busy" class="far">
      <v-progress-linear
        :indeterminate="share === 1"
        :model-value="share * 100"
        color="primary"
        height="3"
        :aria-label="share < 1 ? 'Sending the file' : 'Reading the file'"
      />
      <span class="quiet">{{ share < 1 ? `${Math.round(share * 100)} % sent` : 'being read' }}</span>
      <button type="button" @click="stopping.abort()">Stop</button>
    </p>
    <p v-if="trouble" class="fault-text" role="alert" data-test="file-trouble">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--line-strong);
  border-radius: var(--corner);
  padding: var(--gap-5);
  background: var(--sheet);
}
.far {
  display: flex;
  align-items: center;
  gap: var(--gap-3);
  white-space: nowrap;
}
.far button {
  border: 0;
  background: none;
  color: var(--moss);
  cursor: pointer;
}
.drop.over {
  border-color: var(--moss);
  background: var(--moss-soft);
}
label {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 0 5px;
  align-items: center;
  min-height: 24px;
  cursor: pointer;
}
@media (max-width: 700px) {
  label {
    min-height: 44px;
  }
}
label b {
  color: var(--moss);
  text-decoration: underline;
}
input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
label:focus-within {
  outline: 2px solid var(--moss);
}
p {
  margin: 4px 0 0;
}
</style>
