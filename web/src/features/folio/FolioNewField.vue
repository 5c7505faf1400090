<script setup lang="ts">
// A new field, made from a folio.
import { toRef } from 'vue'
import { useDesign } from '@/features/design/design'
import FieldPanel from '@/features/design/FieldPanel.vue'

const props = defineProps<{ tracker: number; table: number }>()
const emit = defineEmits<{ close: []; made: [field: number] }>()
const steps = useDesign(toRef(props, 'tracker'), toRef(props, 'table'))
</script>

<template>
  <FieldPanel :at="{ tracker, table }" :steps="steps" @close="emit('close')" @made="emit('made', $event)" />
</template>
