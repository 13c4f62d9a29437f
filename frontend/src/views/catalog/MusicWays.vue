<script setup lang="ts">
/** The ways through the music: by artist, or all songs in one list. */
import { useI18n } from 'vue-i18n'

defineProps<{ at: 'music' | 'songs' }>()
const { t } = useI18n()
</script>

<template>
  <span class="ways" role="group" :aria-label="t('songs.ways')">
    <RouterLink
      v-for="way in ['music', 'songs'] as const"
      :key="way"
      class="pill"
      :to="`/catalog/${way}`"
      :aria-current="at === way ? 'page' : undefined"
      :data-test="`way-${way}`"
      >{{ t(`songs.way.${way}`) }}</RouterLink
    >
  </span>
</template>

<style scoped>
.ways {
  display: inline-flex;
  margin-inline-start: auto;
}
.pill {
  border-radius: 0;
}
.pill:first-child {
  border-radius: 3px 0 0 3px;
}
.pill:last-child {
  margin-inline-start: -1px;
  border-radius: 0 3px 3px 0;
}
.pill:hover {
  text-decoration: none;
}
.pill[aria-current] {
  background: var(--accent);
  border-color: var(--accent);
  color: var(--card);
}
</style>
