<script setup lang="ts">
/** Music or photos in their folders as they lie on the disk, level by level. */
import { useIntersectionObserver } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { playableOf } from '@/composables/queue'
import { useLying } from '@/composables/useLying'
import { usePlayer } from '@/composables/usePlayer'
import CoverImage from '@/parts/CoverImage.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import PhotoStrip from './PhotoStrip.vue'
import ShelfTop from './ShelfTop.vue'
import ShelfWays from './ShelfWays.vue'
import SongRows from './SongRows.vue'

const { t } = useI18n()
const route = useRoute()
const player = usePlayer()
const shelf = computed(() => (route.params.shelf === 'photos' ? 'photos' : 'music'))
const path = computed(() => (typeof route.query.path === 'string' ? route.query.path : ''))
const told = computed(() => {
  const number = Number(route.query.in)
  return Number.isInteger(number) && number > 0 ? number : null
})
const { at, where, root, isOneOfMany, below, songs, shots, isEmpty, error, more, retry } = useLying(
  shelf,
  told,
  path,
)
const to = (folder: number, path: string) => ({
  path: `/catalog/${shelf.value}/folders`,
  query: { in: folder, ...(path && { path }) },
})
const crumbs = computed(() => {
  if (at.value === null || !root.value) return []
  const names = path.value ? path.value.split('/') : []
  const steps = names.map((name, index) => ({
    name,
    to: to(at.value!, names.slice(0, index + 1).join('/')),
  }))
  return [{ name: root.value, to: to(at.value, '') }, ...steps]
})
const name = computed(() => crumbs.value.at(-1)?.name ?? '')
const end = useTemplateRef<HTMLElement>('end')
useIntersectionObserver(end, ([seen]) => seen?.isIntersecting && more(), { rootMargin: '600px' })
async function playBelow(): Promise<void> {
  const { songs } = await ask(
    api.GET('/api/shelves/{shelf}/folders/pieces', {
      params: { path: { shelf: 'music' }, query: { ...where.value, below: true } },
    }),
  )
  const items = songs.filter((song) => song.file_id).map(playableOf)
  if (items.length)
    player.play({ title: name.value, subtitle: '', picture: null, entryId: songs[0]!.id, items })
}
</script>

<template>
  <div class="lying">
    <ShelfTop :shelf="shelf" />
    <div class="bar">
      <nav :aria-label="t('lying.title')">
        <ol class="crumbs">
          <li v-if="isOneOfMany">
            <RouterLink v-if="crumbs.length" :to="{ path: route.path }">{{
              t('lying.top')
            }}</RouterLink>
            <h1 v-else aria-current="page">{{ t('lying.top') }}</h1>
          </li>
          <li v-for="(crumb, index) in crumbs" :key="index">
            <h1 v-if="index === crumbs.length - 1" aria-current="page">{{ crumb.name }}</h1>
            <RouterLink v-else :to="crumb.to">{{ crumb.name }}</RouterLink>
          </li>
        </ol>
      </nav>
      <button
        v-if="shelf === 'music' && at !== null && !isEmpty"
        class="pill"
        data-test="play-below"
        @click="playBelow"
      >
        ▸ {{ t('lying.below') }}
      </button>
      <ShelfWays class="to-end" :of="shelf" at="folders" />
    </div>
    <ProblemNote v-if="error" :error="error" :retry="retry" />
    <EmptyPlace v-else-if="isEmpty" :title="t(at === null ? 'lying.empty' : 'lying.gone')" />
    <ul v-if="below.length" class="folders" data-test="folders">
      <li v-for="folder in below" :key="`${folder.folder_id} ${folder.path}`">
        <RouterLink :to="to(folder.folder_id, folder.path)" class="folder">
          <CoverImage
            :picture="folder.picture"
            :title="folder.name"
            kind="album"
            :size="240"
            aria-hidden="true"
          />
          <span class="name">{{ folder.name }}</span>
        </RouterLink>
      </li>
    </ul>
    <SongRows
      v-if="songs.length"
      :key="`${at} ${path}`"
      :songs="songs"
      :total="songs.length"
      :title="name"
      @more="more"
    />
    <PhotoStrip v-if="shots.length" :entries="shots" wrapped />
    <div ref="end"></div>
  </div>
</template>

<style scoped>
.lying {
  padding: 0 24px 40px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  margin-bottom: 16px;
}
.to-end {
  margin-inline-start: auto;
}
.crumbs {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 0;
  align-items: baseline;
  margin: 0;
  padding: 0;
  list-style: none;
}
.crumbs li {
  overflow-wrap: anywhere;
}
.crumbs li:not(:last-child)::after {
  margin: 0 9px;
  color: var(--ink-faint);
  content: '/';
}
h1 {
  display: inline;
  font-size: 17px;
}
.folders {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 0 22px;
  margin: 0 0 22px;
  padding: 0;
  list-style: none;
}
.folder {
  display: flex;
  gap: 12px;
  align-items: center;
  height: 57px;
  border-bottom: 1px solid var(--rule);
  color: var(--ink);
}
.folder:hover {
  background: var(--accent-soft);
  text-decoration: none;
}
.folder .cover {
  flex: none;
  width: 44px;
  height: 44px;
}
.name {
  display: -webkit-box;
  overflow: hidden;
  overflow-wrap: anywhere;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
}
@media (max-width: 760px) {
  .lying {
    padding: 0 12px 40px;
  }
}
</style>
