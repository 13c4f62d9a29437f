<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useKeptInView } from '@/composables/useKeptInView'

const SHELVES = ['films', 'series', 'music', 'photos', 'lists'] as const
const props = defineProps<{ shelf: string }>()
const row = ref<HTMLElement>()
useKeptInView(row, () => props.shelf)
const { t } = useI18n()
</script>

<template>
  <nav ref="row" :aria-label="t('place.catalog')">
    <h1 class="only-said">{{ shelf ? t(`catalog.${shelf}`) : t('front.title') }}</h1>
    <RouterLink to="/catalog" :class="{ at: !shelf }" :aria-current="shelf ? undefined : 'page'">{{
      t('front.title')
    }}</RouterLink>
    <RouterLink
      v-for="s in SHELVES"
      :key="s"
      :to="`/catalog/${s}`"
      :class="{ at: s === shelf }"
      :aria-current="s === shelf ? 'page' : undefined"
      >{{ t(`catalog.${s}`) }}</RouterLink
    >
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
@media (max-width: 720px) {
  nav {
    padding-inline-end: 28px;
    mask-image: linear-gradient(to left, transparent, black 28px);
  }
  nav:dir(rtl) {
    mask-image: linear-gradient(to right, transparent, black 28px);
  }
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
