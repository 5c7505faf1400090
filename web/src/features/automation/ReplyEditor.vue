<script setup lang="ts">
// What a message's reader may answer from within it: choices, or something written; what its page shows, and for how long.
import { computed, ref, watch } from 'vue'
import type { Problem } from '@/api/client'
import type { Reply, Table } from '@/api/types'
import AlterLines from '@/features/bulk/AlterLines.vue'
import { selectAll } from '@/features/condition/selectAll'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { answeringOf, MOST_CHOICES, offered, replyOf, shownOf, typedInto } from './answering'

const props = defineProps<{
  table: Table
  reply?: Reply | null
  /** Its place. */
  at: string
  problem?: Problem
}>()
/** Nothing while it says too little to be kept. */
const emit = defineEmits<{ typed: [reply: Reply | undefined] }>()

const now = ref(answeringOf(props.reply, props.table))
watch(now, (said) => emit('typed', replyOf(said)), { deep: true, immediate: true })
const WAYS = [
  { value: 'choices' as const, title: 'one of these answers' },
  { value: 'typed' as const, title: 'something that they write' },
]
const fields = computed(() => typedInto(props.table))
const fault = (part: string) => props.problem?.at(`${props.at}/${part}`)
const faultOf = (n: number) => fault(`answers/choices/${n}/words`) || fault(`answers/choices/${n}/alter`)
</script>

<template>
  <fieldset class="reply">
    <legend>Its reader may answer</legend>
    <PickOne v-model="now.how" said aria-label="How it is answered" data-test="reply-how" :items="WAYS" />
    <template v-if="now.how === 'choices'">
      <div v-for="(choice, n) in now.choices" :key="n" class="choice" :data-choice="n">
        <p class="label" aria-hidden="true">Answer {{ n + 1 }}, in their words</p>
        <div class="words">
          <v-text-field
            v-model="choice.words"
            :aria-label="`Answer ${n + 1}, in their words`"
            maxlength="80"
            :error-messages="faultOf(n)"
            data-test="reply-words"
          />
          <button v-if="now.choices.length > 1" type="button" class="link" @click="now.choices.splice(n, 1)">not this</button>
        </div>
        <p class="by">By it</p>
        <AlterLines v-model="choice.lines" :table="table" />
      </div>
      <button
        v-if="now.choices.length < MOST_CHOICES"
        type="button"
        class="link"
        data-test="reply-another"
        @click="now.choices.push(offered())"
        >+ another answer</button
      >
    </template>
    <template v-else>
      <p class="label" aria-hidden="true">What is asked</p>
      <v-text-field
        v-model="now.asks"
        aria-label="What is asked"
        maxlength="80"
        :error-messages="fault('answers/typed/asks')"
        data-test="reply-asks"
      />
      <p class="by"
        >What they write becomes
        <PickOne
          said
          :model-value="now.field"
          hint="a field"
          aria-label="Into which field"
          data-test="reply-field"
          :items="named(fields)"
          @update:model-value="now.field = Number($event)"
      /></p>
    </template>
    <p v-if="fault('answers')" class="fault-text" role="alert">{{ fault('answers') }}</p>
    <label class="by"
      >It can be answered for
      <input v-model="now.days" class="boxed short" inputmode="numeric" data-test="reply-days" aria-label="For how many days" /> days,
      without signing in, once.</label
    >
    <p v-if="fault('days')" class="fault-text" role="alert">{{ fault('days') }}</p>
    <p class="label" aria-hidden="true">What its page shows of the {{ table.one }}</p>
    <v-autocomplete
      v-model="now.facts"
      multiple
      chips
      closable-chips
      :items="shownOf(table)"
      item-value="id"
      item-title="name"
      :aria-label="`What its page shows of the ${table.one}`"
      hint="To a person of the team only what is open to them; to anybody else all of it."
      persistent-hint
      :error-messages="fault('facts')"
      data-test="reply-facts"
      @focus="selectAll"
    />
  </fieldset>
</template>

<style scoped>
.reply {
  display: grid;
  gap: var(--gap-3);
  margin: 0;
  padding: var(--gap-3) 0 0;
  border: 0;
  border-top: 1px solid var(--line);
  min-width: 0;
}
legend {
  float: left;
  padding: 0;
  font-weight: 600;
}
.choice {
  padding-left: var(--gap-3);
  border-left: 1px solid var(--line-strong);
}
.label {
  margin: 0 0 -8px;
  color: var(--quiet);
  font-size: 12.5px;
}
.choice .label {
  margin: 0 0 3px;
}
.words .v-input {
  flex: 1 1 0;
}
.words {
  display: flex;
  gap: var(--gap-3);
  align-items: baseline;
}
.by {
  margin: var(--gap-1) 0;
  font: 15px/1.5 var(--serif);
}
.boxed {
  padding: 3px 8px;
  font: 14px var(--sans);
}
.short {
  width: 56px;
}
</style>
