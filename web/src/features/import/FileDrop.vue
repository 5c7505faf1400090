<script setup lang="ts">
// Choosing a file, by hand or by dropping it.
import { ref } from 'vue'
import { saying } from '@/api/client'
import { upload, type Upload } from './importing'

const emit = defineEmits<{ taken: [upload: Upload] }>()
const busy = ref(false)
const over = ref(false)
const trouble = ref('')

async function take(file: File | undefined) {
  if (!file) return
  busy.value = true
  trouble.value = ''
  try {
    emit('taken', await upload(file))
  } catch (error) {
    trouble.value = saying(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="drop" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="((over = false), take($event.dataTransfer?.files[0]))">
    <label>
      <input type="file" accept=".csv,.tsv,.txt,.xlsx,.ods,.json" data-test="file" @change="take(($event.target as HTMLInputElement).files?.[0])" />
      <b>Choose a file</b> or drop it here
    </label>
    <p class="quiet">CSV, TSV, XLSX, ODS or JSON, up to 64 MB and 250,000 rows.</p>
    <v-progress-linear v-if="busy" indeterminate color="primary" height="2" aria-label="Reading the file" />
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
.drop.over {
  border-color: var(--moss);
  background: var(--moss-soft);
}
label {
  cursor: pointer;
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
