<script setup lang="ts">
import { computed, inject } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard } from '@/api/client'
import { PICKING } from '@/composables/usePicking'
import { bytes, clock } from '@/composables/words'
import CoverImage from './CoverImage.vue'
import ShareBar from './ShareBar.vue'
import StateSign from './StateSign.vue'

const props = defineProps<{
  entry: EntryCard
  square?: boolean
  brief?: boolean
  /** What it is ordered by, which it then says. */
  by?: string
}>()
const { t, locale } = useI18n()
const picking = inject(PICKING, null)
const isPicked = computed(
  () => !!picking?.on.value && picking.picked.value.includes(props.entry.id),
)
function open(event: MouseEvent): void {
  if (!picking?.on.value) return
  event.preventDefault()
  event.stopPropagation()
  picking.pick(props.entry.id, event.shiftKey)
}
const measure = computed(() => {
  const { seconds, lines, size_bytes: size, mark } = props.entry
  if (props.by === 'length') return seconds ? clock(seconds) : ''
  if (props.by === 'resolution') return lines ? `${lines}p` : ''
  if (props.by === 'size') return size ? bytes(size, locale.value) : ''
  return props.by === 'rating' && mark?.rating ? `★ ${mark.rating}` : ''
})
const second = computed(() => {
  const { kind, year, subtitle, count } = props.entry
  if (kind === 'album' && !props.brief) return [subtitle, year].filter(Boolean).join(', ')
  if (kind === 'series')
    return [year, count ? t('catalog.episodes', count) : ''].filter(Boolean).join(', ')
  return [year, measure.value].filter(Boolean).join(', ')
})
</script>

<template>
  <RouterLink
    :to="`/catalog/entry/${entry.id}`"
    class="tile"
    :class="{ square, picked: isPicked }"
    :aria-current="isPicked || undefined"
    @click.capture="open"
  >
    <span v-if="picking?.on.value" class="picktick" aria-hidden="true">{{
      isPicked ? '✓' : ''
    }}</span>
    <CoverImage
      :picture="entry.picture"
      :title="entry.title"
      :kind="entry.kind"
      :size="240"
      class="front"
    />
    <ShareBar v-if="entry.mark?.share" :share="entry.mark.share" />
    <span class="slip">
      <b :title="entry.title">{{ entry.title }}</b>
      <span class="soft"
        ><span class="second">{{ second }}</span
        ><span v-if="entry.mark?.favourite" class="fond" :title="t('marks.favourite')">♥</span
        ><span v-if="entry.mark?.seen" class="seen" :title="t('marks.seen')">{{
          t('marks.seen')
        }}</span></span
      >
      <StateSign v-if="entry.state !== 'settled'" :state="entry.state" class="sign" />
    </span>
  </RouterLink>
</template>

<style scoped>
.tile {
  display: block;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule);
  border-radius: 3px;
  box-shadow: var(--shadow);
  padding: 5px 5px 0;
}
.tile:hover {
  text-decoration: none;
  border-color: var(--accent);
  transform: translateY(-2px);
}
.tile {
  position: relative;
}
.picked {
  border-color: var(--accent);
  box-shadow: 0 0 0 2px var(--accent);
}
.tile {
  transition: transform 0.12s;
}
.front {
  aspect-ratio: 2 / 3;
}
.square .front {
  aspect-ratio: 1;
}
.slip {
  position: relative;
  display: block;
  padding: 6px 18px 6px 3px;
  font-size: 12.5px;
  line-height: 1.3;
  min-height: 46px;
  border-top: 1px solid var(--rule);
  margin-top: 5px;
}
b {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
  font-weight: 500;
}
.slip .soft {
  font-size: 12px;
}
.seen,
.fond {
  margin-inline-start: 7px;
  color: var(--moss);
}
.fond {
  color: var(--stamp);
}
.sign {
  position: absolute;
  right: 2px;
  bottom: 8px;
}
</style>
