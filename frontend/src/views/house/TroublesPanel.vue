<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { moment } from '@/composables/words'

/** Processes that ended by themselves and were started again; nothing is shown while all is well. */
const { t, te, locale } = useI18n()
const { data } = useQuery({ queryKey: ['troubles'], queryFn: () => ask(api.GET('/api/troubles')) })
const part = (name: string): string => (te(`process.${name}`) ? t(`process.${name}`) : name)
</script>

<template>
  <section v-if="data?.troubles.length">
    <div class="head">
      <h2>{{ t('house.restarts') }}</h2>
    </div>
    <ul class="card">
      <li v-for="(one, index) in data.troubles" :key="index">
        <b>{{ part(one.name) }}</b>
        <span class="soft">{{ one.what }}</span>
        <span class="faint">{{ moment(one.at, locale) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr) auto;
  gap: 4px 16px;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
b {
  font-weight: 500;
}
</style>
