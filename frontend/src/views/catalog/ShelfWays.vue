<script setup lang="ts">
/** The ways through a shelf: of music albums, songs or folders, of photos day by day, on the map or in folders. */
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

const WAYS = {
  music: { music: '/catalog/music', songs: '/catalog/songs', folders: '/catalog/music/folders' },
  photos: {
    days: '/catalog/photos',
    map: '/catalog/photos/map',
    albums: '/catalog/photos/albums',
    folders: '/catalog/photos/folders',
  },
} as const
const KEPT = ['with', 'filter', 'year'] as const
defineProps<{ of: keyof typeof WAYS; at: string }>()
const { t } = useI18n()
const route = useRoute()
/** What is narrowed down stays so, from one way to the other. */
function asked(): Record<string, string> {
  return Object.fromEntries(KEPT.map((one) => [one, route.query[one]]).filter((one) => !!one[1]))
}
</script>

<template>
  <span class="ways" role="group" :aria-label="t(`ways.of.${of}`)">
    <RouterLink
      v-for="(path, way) in WAYS[of]"
      :key="way"
      class="pill"
      :to="{ path, query: of === 'photos' && way !== 'folders' ? asked() : {} }"
      :aria-current="at === way ? 'page' : undefined"
      :data-test="`way-${way}`"
      >{{ t(`ways.${way}`) }}</RouterLink
    >
  </span>
</template>

<style scoped>
.ways {
  display: inline-flex;
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
