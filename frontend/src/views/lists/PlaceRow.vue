<script setup lang="ts">
/** A place in a playlist: dragged by the mouse, moved by Alt and the arrow keys. */
import { useI18n } from 'vue-i18n'
import type { Place } from '@/api/client'
import { clock } from '@/composables/words'
import CoverImage from '@/parts/CoverImage.vue'

const props = defineProps<{ place: Place; at: number; isOwn: boolean }>()
const emit = defineEmits<{ play: []; drop: []; move: [to: number]; take: []; lay: [] }>()
const { t } = useI18n()
function key(event: KeyboardEvent): void {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (props.isOwn && event.altKey && step) {
    event.preventDefault()
    emit('move', props.at + step)
  } else if (props.isOwn && event.key === 'Delete') emit('drop')
  else if (event.key === 'Enter' && event.target === event.currentTarget) emit('play')
}
</script>

<template>
  <li
    :draggable="isOwn"
    tabindex="0"
    data-place
    :aria-label="`${at + 1}. ${place.entry.title}`"
    :aria-description="isOwn ? t('lists.moveHow') : undefined"
    @keydown="key"
    @dragstart="emit('take')"
    @dragover.prevent
    @drop.prevent="emit('lay')"
  >
    <span class="mono faint at">{{ at + 1 }}</span>
    <CoverImage
      :picture="place.entry.picture"
      :title="place.entry.title"
      :kind="place.entry.kind"
      :size="240"
      class="small"
    />
    <span class="what">
      <RouterLink :to="`/catalog/entry/${place.entry.id}`" tabindex="-1">{{
        place.entry.title
      }}</RouterLink>
      <span class="soft">{{
        [place.entry.subtitle, t(`entry.${place.entry.kind}`), place.entry.year]
          .filter(Boolean)
          .join(', ')
      }}</span>
    </span>
    <span class="mono soft">{{ place.seconds ? clock(place.seconds) : '' }}</span>
    <button
      v-if="place.file_id && place.entry.kind !== 'photo'"
      class="plain play"
      tabindex="-1"
      :aria-label="`${t('page.play')}: ${place.entry.title}`"
      @click="emit('play')"
    >
      ▸
    </button>
    <span v-else></span>
    <button
      v-if="isOwn"
      class="plain out"
      tabindex="-1"
      :aria-label="t('lists.out', { title: place.entry.title })"
      @click="emit('drop')"
    >
      ×
    </button>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 34px 44px minmax(0, 1fr) auto 30px 30px;
  gap: 0 10px;
  align-items: center;
  min-height: 48px;
  padding: 3px 10px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
li:hover,
li:focus-visible {
  background: var(--accent-soft);
}
li[draggable='true'] {
  cursor: grab;
}
.held {
  opacity: 0.5;
}
.at {
  text-align: end;
}
.small {
  width: 44px;
  height: 40px;
}
.what {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.what a {
  overflow: hidden;
  color: var(--ink);
  text-overflow: ellipsis;
  white-space: nowrap;
}
.what .soft {
  font-size: 12.5px;
}
.play,
.out {
  height: 30px;
  text-align: center;
  color: var(--accent);
}
.out {
  color: var(--ink-faint);
  font-size: 17px;
}
</style>
