<script setup lang="ts">
/** What one has begun and not finished; nothing is shown where there is none. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import CoverImage from '@/parts/CoverImage.vue'
import ShareBar from '@/parts/ShareBar.vue'

const props = defineProps<{ shelf: string }>()
const KINDS: Record<string, readonly string[]> = {
  films: ['movie'],
  series: ['episode'],
  music: ['track'],
  photos: ['clip'],
}
const { t } = useI18n()
const { data } = useQuery({
  queryKey: ['going-on'],
  queryFn: () => ask(api.GET('/api/going-on')),
})
const entries = computed(
  () => data.value?.entries.filter((card) => KINDS[props.shelf]?.includes(card.kind)) ?? [],
)
</script>

<template>
  <section v-if="entries.length" class="going" :aria-label="t('marks.goingOn')">
    <h2>{{ t('marks.goingOn') }}</h2>
    <ul>
      <li v-for="entry in entries" :key="entry.id">
        <RouterLink :to="`/catalog/entry/${entry.id}`">
          <CoverImage
            :picture="entry.picture"
            :title="entry.title"
            :kind="entry.kind"
            :size="240"
            class="front"
            :class="{ wide: entry.kind !== 'movie' }"
          />
          <span class="slip"
            ><b>{{ entry.title }}</b
            ><span class="soft">{{ entry.subtitle || entry.year }}</span
            ><ShareBar class="played" :share="entry.mark?.share ?? 0"
          /></span>
        </RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.going {
  margin: 0 0 20px;
  padding-bottom: 16px;
  border-bottom: 1px solid var(--rule);
}
h2 {
  margin: 0 0 8px;
  font: 700 14.5px/1.4 var(--serif);
}
ul {
  display: flex;
  gap: 12px;
  margin: 0 -2px;
  padding: 2px;
  list-style: none;
  overflow-x: auto;
}
li {
  flex: none;
  width: 236px;
}
a {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 10px;
  padding: 5px;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule);
  border-radius: 3px;
}
a:hover {
  text-decoration: none;
  border-color: var(--accent);
}
.front {
  width: 48px;
  aspect-ratio: 2 / 3;
}
.front.wide {
  width: 92px;
  aspect-ratio: 16 / 10;
}
.slip {
  display: flex;
  flex-direction: column;
  min-width: 0;
  padding: 2px 4px 2px 0;
  font-size: 13px;
  line-height: 1.35;
}
.slip > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
b {
  font-weight: 500;
}
.soft {
  font-size: 12px;
}
.played {
  margin-top: auto;
}
</style>
