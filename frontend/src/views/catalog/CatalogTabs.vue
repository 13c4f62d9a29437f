<script setup lang="ts">
import { useI18n } from 'vue-i18n'

const SHELVES = ['films', 'series', 'music', 'photos', 'lists'] as const
defineProps<{ shelf: string }>()
const { t } = useI18n()
</script>

<template>
  <nav :aria-label="t('place.catalog')">
    <h1 class="only-said">{{ shelf ? t(`catalog.${shelf}`) : t('front.title') }}</h1>
    <RouterLink to="/catalog" :class="{ at: !shelf }">{{ t('front.title') }}</RouterLink>
    <RouterLink v-for="s in SHELVES" :key="s" :to="`/catalog/${s}`" :class="{ at: s === shelf }">{{
      t(`catalog.${s}`)
    }}</RouterLink>
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  gap: 2px;
  flex: none;
  max-width: 100%;
  overflow-x: auto;
  scrollbar-width: none;
}
a {
  padding: 4px 11px;
  border-radius: 3px;
  flex: none;
  color: var(--ink-soft);
  font: 700 14.5px/1.4 var(--serif);
}
a:hover {
  text-decoration: none;
  color: var(--ink);
}
a.at {
  color: var(--ink);
  box-shadow: inset 0 -2px 0 var(--accent);
  border-radius: 0;
}
</style>
