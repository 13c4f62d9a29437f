<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard } from '@/api/client'
import { day } from '@/composables/words'
import CoverImage from '@/parts/CoverImage.vue'
import ShareBar from '@/parts/ShareBar.vue'

const props = defineProps<{
  name: string
  entries: EntryCard[]
  arranging: boolean
  place: number
  last: boolean
}>()
const emit = defineEmits<{ hide: []; move: [by: number] }>()
const { t, locale } = useI18n()
/** What one is in the middle of plays at once; all else opens its page. */
const plays = computed(() => props.name === 'going-on' || props.name === 'next')
const to = (entry: EntryCard) => (plays.value ? `/play/${entry.id}` : `/catalog/entry/${entry.id}`)
const shape = (entry: EntryCard) =>
  plays.value || ['episode', 'photo', 'clip'].includes(entry.kind)
    ? 'wide'
    : ['album', 'track'].includes(entry.kind)
      ? 'square'
      : 'tall'
const second = (entry: EntryCard) =>
  props.name === 'this-day' && entry.moment
    ? day(entry.moment, locale.value)
    : [entry.subtitle, ['movie', 'album', 'series'].includes(entry.kind) ? entry.year : '']
        .filter(Boolean)
        .join(', ')
</script>

<template>
  <section class="row" :aria-label="t(`front.row.${name}`)">
    <header>
      <h2>{{ t(`front.row.${name}`) }}</h2>
      <span v-if="arranging" class="acts"
        ><button class="link" :disabled="place === 0" @click="emit('move', -1)">
          {{ t('front.up') }}</button
        ><button class="link" :disabled="last" @click="emit('move', 1)">
          {{ t('front.down') }}</button
        ><button class="link" @click="emit('hide')">{{ t('front.hide') }}</button></span
      >
    </header>
    <ul>
      <li v-for="entry in entries" :key="entry.id" :class="shape(entry)">
        <RouterLink :to="to(entry)">
          <span class="front"
            ><CoverImage
              :picture="entry.picture"
              :title="entry.title"
              :kind="entry.kind"
              :size="240"
              :contain="plays && entry.kind === 'movie'"
              class="cover"
            /><span v-if="plays" class="play" aria-hidden="true">▶</span></span
          ><span v-if="plays" class="only-said">{{ t('page.play') }} </span>
          <ShareBar v-if="entry.mark?.share" :share="entry.mark.share" />
          <b>{{ entry.title }}</b><span class="soft">{{ second(entry) }}</span>
        </RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
header {
  display: flex;
  align-items: baseline;
  gap: 16px;
  margin-bottom: 6px;
}
h2 {
  margin: 0;
  font: 700 16px/1.4 var(--serif);
}
.acts {
  display: flex;
  gap: 12px;
}
ul {
  display: flex;
  gap: 14px;
  margin: 0 -3px;
  padding: 3px 3px 8px;
  list-style: none;
  overflow-x: auto;
  scroll-snap-type: x proximity;
  scroll-padding-inline: 3px;
}
li {
  flex: none;
  scroll-snap-align: start;
}
.tall {
  width: 118px;
}
.square {
  width: 138px;
}
.wide {
  width: 204px;
}
a {
  display: flex;
  flex-direction: column;
  color: var(--ink);
  font-size: 13px;
  line-height: 1.35;
}
a:hover {
  text-decoration: none;
}
a:hover b {
  color: var(--accent);
}
.front {
  position: relative;
  display: block;
  margin-bottom: 5px;
}
.cover {
  width: 100%;
  aspect-ratio: 2 / 3;
}
.square .cover {
  aspect-ratio: 1;
}
.wide .cover {
  aspect-ratio: 16 / 10;
}
.play {
  position: absolute;
  inset-inline-start: 8px;
  bottom: 8px;
  width: 30px;
  height: 30px;
  border-radius: 50%;
  display: grid;
  place-items: center;
  padding-inline-start: 2px;
  font-size: 12px;
  background: var(--card);
  color: var(--ink);
  border: 1px solid var(--rule-strong);
}
b {
  font-weight: 500;
}
b,
.soft {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.soft {
  font-size: 12px;
  min-height: 16px;
}
</style>
