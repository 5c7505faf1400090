<script setup lang="ts">
// Figures as in an account: what each is, its sign, what it is now and was in the run before, and what changed, in words.
import type { StatementTold } from '@/api/types'

defineProps<{ told: StatementTold }>()
</script>

<template>
  <table class="statement">
    <thead v-if="told.heads.length">
      <tr>
        <th scope="col"><span class="unseen">figure</span></th>
        <th v-for="head in told.heads" :key="head" scope="col">{{ head }}</th>
        <th scope="col">change</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(line, n) in told.lines" :key="n" :class="{ total: line.total }">
        <th scope="row"
          ><span class="named"
            ><span class="sign" aria-hidden="true">{{ line.sign }}</span
            ><span
              >{{ line.words
              }}<span v-if="line.wanted" class="wanted"
                ><span class="length" aria-hidden="true"
                  ><span class="come" :style="{ width: `${Math.min(1, Number(line.reached ?? 0)) * 100}%` }" /></span
                >{{ line.wanted }}</span
              ></span
            ></span
          ></th
        >
        <template v-if="line.refused">
          <td :colspan="told.heads.length ? 3 : 1" class="quiet refused">{{ line.refused }}</td>
        </template>
        <template v-else>
          <td class="now">{{ line.now }}</td>
          <td v-if="told.heads.length" class="quiet">{{ line.before }}</td>
          <td v-if="told.heads.length" class="quiet">{{ line.change }}</td>
        </template>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.statement {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 6px 8px 6px 0;
}
thead th {
  color: var(--quiet);
  font-size: 13px;
  padding-block: 2px;
}
thead th + th,
td {
  text-align: right;
}
td {
  padding: 6px 0 6px 10px;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
tbody tr {
  border-top: 1px solid var(--line);
}
.now {
  font: 600 17px/1.2 var(--serif);
}
.total {
  border-top: 1px solid var(--ink);
}
.total th {
  font-weight: 600;
}
.named {
  display: grid;
  grid-template-columns: 14px minmax(0, 1fr);
}
.sign {
  color: var(--quiet);
}
.wanted {
  display: block;
  color: var(--quiet);
  font-size: 13px;
}
/* The upright stroke at its end is what is wanted. */
.length {
  display: block;
  height: 8px;
  max-width: 180px;
  margin: 3px 0 1px;
  border-bottom: 1px solid var(--line-strong);
  border-right: 2px solid var(--ink);
}
.come {
  display: block;
  height: 6px;
  background: var(--moss);
}
.refused {
  white-space: normal;
}
@media (max-width: 420px) {
  .statement {
    font-size: 13px;
  }
  td {
    padding-left: 6px;
    white-space: normal;
  }
  .now {
    font-size: 15px;
  }
}
</style>
