<script setup lang="ts">
/** How like a candidate is, and what speaks for and against it. */
import { useI18n } from 'vue-i18n'
import type { Candidate } from '@/api/client'
import { saidOf, speaks, weighed } from './compare'

defineProps<{ candidate: Candidate; silent: string[] }>()
const { t, te } = useI18n()
const SIGNS = { for: '+', half: '~', veto: '−' }
const worded = (name: string) => (te(`part.${name}`) ? t(`part.${name}`) : name)
</script>

<template>
  <b class="mono">{{ Math.round(candidate.score * 100) }} %</b>
  <ul class="parts">
    <li v-for="part in weighed(candidate)" :key="part.name" :class="speaks(part)">
      <i aria-hidden="true">{{ SIGNS[speaks(part)] }}</i><span
        ><b>{{ worded(part.name) }}</b> {{ saidOf(part) }}</span
      >
    </li>
    <li v-if="silent.length">
      <i aria-hidden="true">?</i
      ><span>{{ t('matches.silent', { what: silent.map(worded).join(', ') }) }}</span>
    </li>
  </ul>
</template>

<style scoped>
.parts {
  list-style: none;
  margin: 6px 0 2px;
  padding: 0;
  font-size: 12px;
}
.parts li {
  display: grid;
  grid-template-columns: 12px 1fr;
  gap: 6px;
  line-height: 1.45;
  padding: 1px 0;
  color: var(--ink-soft);
}
.parts b {
  font-weight: 500;
}
.parts i {
  font: 600 13px/1.35 var(--mono);
  text-align: center;
}
.for i {
  color: var(--moss);
}
.half i {
  color: var(--amber, #8a5a00);
}
.parts .veto {
  color: var(--stamp);
}
</style>
