<script setup lang="ts">
// To whom what is said of a table's records is told: a sentence, which a steward changes.
import { computed, ref } from 'vue'
import { useDoing } from '@/app/asking'
import { useTracker } from '@/features/tracker/tracker'
import TalkRoles from './TalkRoles.vue'
import type { Talk } from './talking'

const props = defineProps<{ talk: Talk; tracker: number; table: number }>()
const { tracker: current } = useTracker()
const many = computed(() => current.value?.tables.find((table) => table.id === props.table)?.many ?? '')
const sets = computed(() => !!current.value?.steward && !props.talk.standing.value)
const open = ref(false)
const { attempt, trouble } = useDoing()
</script>

<template>
  <p v-if="talk.toldTo.value.says && (sets || talk.toldTo.value.roles.length)" class="told" data-test="talk-for">
    <v-menu v-if="sets" v-model="open" :close-on-content-click="false" location="bottom">
      <template #activator="{ props: menu }">
        <button type="button" class="phrase" v-bind="menu">{{ talk.toldTo.value.says }}</button>
      </template>
      <TalkRoles
        :tracker="tracker"
        :roles="talk.toldTo.value.roles"
        :many="many"
        :trouble="trouble"
        @set="(roles) => attempt(() => talk.tellTo(roles))"
        @close="open = false"
      />
    </v-menu>
    <template v-else>{{ talk.toldTo.value.says }}</template>
  </p>
</template>

<style scoped>
.told {
  margin: 4px 0 0;
  color: var(--quiet);
  font-size: 13px;
}
.phrase {
  border: 0;
  background: none;
  padding: 2px 0;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
  border-bottom: 1px dashed var(--line-strong);
}
@media (pointer: coarse) {
  .phrase {
    min-height: 40px;
  }
}
</style>
