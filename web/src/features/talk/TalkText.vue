<script setup lang="ts">
// What was said, as it is read: texts with their small formatting, people, and records that one goes to.
import type { TalkSpan } from '@/api/types'
import { runsOf } from './wording'

defineProps<{ says: TalkSpan[]; tracker: number }>()
</script>

<template>
  <p class="says"
    ><template v-for="(span, n) in says" :key="n"
      ><template v-if="'text' in span.part"
        ><template v-for="(run, r) in runsOf(span.text)" :key="r"
          ><a v-if="run.look === 'link'" :href="run.text" rel="noopener noreferrer nofollow" target="_blank">{{ run.text }}</a
          ><component :is="run.look" v-else-if="run.look">{{ run.text }}</component
          ><template v-else>{{ run.text }}</template></template
        ></template
      ><router-link
        v-else-if="'record' in span.part"
        :to="{ name: 'record', params: { tracker, table: span.part.record.table, record: span.part.record.record } }"
        >{{ span.text }}</router-link
      ><span v-else class="whom">@{{ span.text }}</span></template
    ></p
  >
</template>

<style scoped>
.says {
  margin: 0;
  font: 16px/1.4 var(--serif);
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.whom {
  color: var(--moss);
  border-bottom: 1px dotted var(--moss);
}
code {
  font-size: 0.85em;
}
</style>
