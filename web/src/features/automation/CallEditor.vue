<script setup lang="ts">
// A step that calls a web address: what is sent there, and what of its answer goes into which field.
import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Call, Table } from '@/api/types'
import { paths } from '@/features/condition/checks'
import { writableOf } from '@/features/bulk/altering'
import PickOne from '@/features/menu/PickOne.vue'
import { named } from '@/features/menu/pick'
import { useTracker } from '@/features/tracker/tracker'
import { freshSecret } from './calling'
import StepShell from './StepShell.vue'

const props = defineProps<{
  table: Table
  calls: Call
  at: string
  problem?: Problem
  readonly: boolean
}>()
const emit = defineEmits<{ keep: [calls: Call]; leave: [] }>()
const { tracker } = useTracker()

const METHODS = (['get', 'post', 'put', 'patch', 'delete'] as const).map((value) => ({ value, title: value.toUpperCase() }))
const given = JSON.parse(JSON.stringify(props.calls)) as Call
const draft = ref({ ...given, headers: given.headers ?? [], sends: given.sends ?? [], takes: given.takes ?? [] })
const fields = computed(() => named(writableOf(props.table)))
const values = computed(() => {
  const known = tracker.value ? paths(tracker.value, props.table) : []
  return known.map((one) => ({ value: `{${one.name.split(' → ').join('.')}}`, title: one.name }))
})
const signed = computed({
  get: () => !!draft.value.secret,
  set: (on) => (draft.value.secret = on ? freshSecret() : ''),
})
/** What is seldom said stands open where something is said there, or is wrong there. */
const beside = computed(() => signed.value || draft.value.headers.length > 0 || draft.value.seconds !== 20)
const fault = (part: string) => props.problem?.at(`${props.at}/call/calls/${part}`)
const fallback = computed(() => props.problem?.at(`${props.at}/call/calls`) || props.problem?.at(`${props.at}/call`))

/** A value alone keeps what it is; it is named after its field until somebody says otherwise. */
function send(value: string) {
  const last = value.replace(/[{}]/g, '').split('.').at(-1) ?? ''
  const name = last
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '')
  draft.value.sends.push({ name: name || 'value', value })
}
const keep = () => emit('keep', { ...draft.value, seconds: Math.trunc(Number(draft.value.seconds)) || 0 })
</script>

<template>
  <StepShell :fault="fallback" :blocked="readonly" test="keep-call" @keep="keep" @leave="emit('leave')">
    <div class="call">
      <p class="lead address">
        Call
        <PickOne v-model="draft.method" said aria-label="How it is called" data-test="call-method" :items="METHODS" />
      </p>
      <v-text-field
        v-model="draft.address"
        aria-label="Web address"
        placeholder="https://rates.example/latest"
        :error-messages="fault('address')"
        data-test="call-address"
      />
      <p class="label">{{ draft.method === 'get' ? 'Sent in the address' : 'Sent, as JSON' }}</p>
      <div v-for="(one, n) in draft.sends" :key="n" class="line" :data-sends="n">
        <input v-model="one.name" class="boxed" :aria-label="`Name of what is sent, ${n + 1}`" data-test="call-name" />
        <input v-model="one.value" class="boxed wide" :aria-label="`What is sent, ${n + 1}`" data-test="call-value" />
        <button type="button" class="link" :aria-label="`not this: ${one.name}`" @click="draft.sends.splice(n, 1)">not this</button>
        <p v-if="fault(`sends/${n}/name`) || fault(`sends/${n}/value`)" class="fault-text" role="alert">{{
          fault(`sends/${n}/name`) || fault(`sends/${n}/value`)
        }}</p>
      </div>
      <PickOne
        said
        class="send"
        :model-value="null"
        hint="+ send a value of the record"
        aria-label="Send a value of the record"
        data-test="call-send"
        :items="values"
        @update:model-value="send(String($event))"
      />
      <p class="label">Taken of its answer</p>
      <div v-for="(one, n) in draft.takes" :key="n" class="line" :data-takes="n">
        <input
          v-model="one.path"
          class="boxed"
          :aria-label="`Where in the answer, ${n + 1}`"
          placeholder="quote.price"
          data-test="call-path"
        />
        <span>into</span>
        <PickOne
          said
          :model-value="one.field"
          aria-label="Into which field"
          data-test="call-into"
          :items="fields"
          @update:model-value="one.field = Number($event)"
        />
        <button type="button" class="link" :aria-label="`not this: ${one.path}`" @click="draft.takes.splice(n, 1)">not this</button>
        <p v-if="fault(`takes/${n}/path`) || fault(`takes/${n}/field`)" class="fault-text" role="alert">{{
          fault(`takes/${n}/path`) || fault(`takes/${n}/field`)
        }}</p>
      </div>
      <button
        type="button"
        class="link begin"
        data-test="call-take"
        @click="draft.takes.push({ path: '', field: Number(fields[0]?.value ?? 0) })"
        >+ put something of it into a field</button
      >
      <details :open="beside || undefined">
        <summary>Signature, headers and time</summary>
        <label class="tick"
          ><input v-model="signed" type="checkbox" data-test="call-signed" /> it is signed, so that they know it is from here</label
        >
        <p v-if="signed" class="quiet small">
          <code>Westerfall-Signature</code> is the HMAC-SHA-256 of <code>Westerfall-Timestamp</code>, a point and the body, under the secret
          <code data-test="call-secret">{{ draft.secret }}</code>
          <button type="button" class="link" @click="draft.secret = freshSecret()">another secret</button>
        </p>
        <p v-if="fault('secret')" class="fault-text" role="alert">{{ fault('secret') }}</p>
        <div v-for="(one, n) in draft.headers" :key="n" class="line" :data-header="n">
          <input v-model="one.name" class="boxed" :aria-label="`Name of header ${n + 1}`" placeholder="Authorization" />
          <input v-model="one.value" class="boxed wide" :aria-label="`Header ${n + 1}`" autocomplete="off" />
          <button type="button" class="link" :aria-label="`not this: ${one.name}`" @click="draft.headers.splice(n, 1)">not this</button>
          <p v-if="fault(`headers/${n}`)" class="fault-text" role="alert">{{ fault(`headers/${n}`) }}</p>
        </div>
        <button type="button" class="link begin" data-test="call-header" @click="draft.headers.push({ name: '', value: '' })"
          >+ a header</button
        >
        <p class="lead"
          >It waits
          <input v-model="draft.seconds" class="boxed short" inputmode="numeric" aria-label="How many seconds" data-test="call-seconds" />
          seconds for the answer.</p
        >
        <p v-if="fault('seconds')" class="fault-text" role="alert">{{ fault('seconds') }}</p>
      </details>
    </div>
  </StepShell>
</template>

<style scoped>
.call {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--gap-2);
  justify-items: start;
}
.call > :deep(.v-input) {
  width: 100%;
}
.address {
  margin: 0;
}
.label {
  margin: var(--gap-2) 0 0;
  color: var(--quiet);
  font-size: 12.5px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--gap-2);
  width: 100%;
}
.line :deep(.pick) {
  flex: 0 1 auto;
  min-width: 0;
}
.line .fault-text {
  flex-basis: 100%;
  margin: 0;
}
.boxed {
  width: 130px;
  min-height: 32px;
  padding: 3px 8px;
  font: 14px var(--sans);
}
.wide {
  flex: 1;
  min-width: 160px;
}
.short {
  width: 56px;
}
.call > :deep(.send) {
  max-width: min(240px, 100%);
  min-width: 0;
}
.begin {
  min-height: 28px;
}
details {
  width: 100%;
}
summary {
  min-height: 28px;
  cursor: pointer;
  color: var(--quiet);
}
.tick {
  display: block;
  font-size: 14px;
  margin: 4px 0;
}
.small {
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
@media (max-width: 600px) {
  .boxed,
  .begin,
  .link,
  summary {
    min-height: 44px;
  }
}
</style>
