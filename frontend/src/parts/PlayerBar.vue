<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { canPlay, usePlayer } from '@/composables/usePlayer'
import { usePosition } from '@/composables/usePosition'
import { isTyping } from '@/composables/useKeys'
import { clock } from '@/composables/words'
import CoverImage from './CoverImage.vue'

const { t } = useI18n()
const { playing, place, current, step, close } = usePlayer()
const media = useTemplateRef<HTMLMediaElement>('media')
const paused = ref(true)
const now = ref(0)
const length = ref(0)
const problem = ref('')
const audio = computed(() => current.value?.audio ?? false)
const position = usePosition(
  () => current.value,
  () => media.value,
)
function leave(): void {
  position.stop()
  close()
}
function go(by: number): void {
  position.stop()
  step(by)
}

watch(current, async (item) => {
  document.documentElement.style.setProperty('--player-space', item?.audio ? '62px' : '0px')
  now.value = length.value = 0
  problem.value = ''
  if (!item) return
  if (!canPlay(item)) {
    problem.value = t('page.cannot')
    return
  }
  await nextTick()
  await media.value?.play().catch((reason: Error) => {
    if (reason.name !== 'AbortError' && reason.name !== 'NotAllowedError')
      problem.value = t('player.failed', { why: reason.message })
  })
})
function toggle(): void {
  if (media.value?.paused) void media.value.play()
  else media.value?.pause()
}
function seek(event: Event): void {
  if (media.value) media.value.currentTime = Number((event.target as HTMLInputElement).value)
}
function ended(): void {
  position.stop()
  if (playing.value && place.value < playing.value.items.length - 1) step(1)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!playing.value || isTyping(event.target)) return
  if (event.key === 'Escape' && !audio.value) leave()
  if (event.key === ' ' && (event.target as HTMLElement).tagName !== 'BUTTON') {
    event.preventDefault()
    toggle()
  }
})
const events = {
  play: () => (paused.value = false),
  pause: () => {
    paused.value = true
    position.keep()
  },
  loadedmetadata: () => position.begin(),
  timeupdate: () => {
    now.value = media.value?.currentTime ?? 0
    position.move()
  },
  durationchange: () => (length.value = media.value?.duration || 0),
  ended,
  error: () => (problem.value = t('player.failed', { why: media.value?.error?.message ?? '' })),
}
</script>

<template>
  <div
    v-if="playing && current"
    class="player"
    :class="{ audio, film: !audio }"
    role="region"
    :aria-label="playing.title"
  >
    <template v-if="!audio">
      <div class="stage">
        <video
          v-if="!problem"
          ref="media"
          :key="current.file_id"
          :src="current.url"
          playsinline
          autoplay
          v-on="events"
          @click="toggle"
        ></video>
        <p v-else class="trouble" role="alert">{{ problem }}</p>
      </div>
    </template>
    <audio
      v-else-if="!problem"
      ref="media"
      :key="current.file_id"
      :src="current.url"
      autoplay
      v-on="events"
    ></audio>
    <div class="controls">
      <RouterLink v-if="audio" :to="`/catalog/entry/${playing.entryId}`"
        ><CoverImage
          :picture="playing.picture"
          :title="playing.title"
          kind="album"
          :size="240"
          class="thumb"
      /></RouterLink>
      <span class="what"
        ><b>{{ current.label || playing.title }}</b
        ><span class="faint">{{
          audio
            ? playing.title + (playing.subtitle ? ', ' + playing.subtitle : '')
            : playing.subtitle
        }}</span></span
      >
      <button
        v-if="playing.items.length > 1"
        class="key"
        :disabled="place === 0"
        :aria-label="t('player.previous')"
        @click="go(-1)"
      >
        ⏮
      </button>
      <button
        class="key main"
        :aria-label="paused ? t('player.play') : t('player.pause')"
        @click="toggle"
      >
        {{ paused ? '▶' : '❚❚' }}
      </button>
      <button
        v-if="playing.items.length > 1"
        class="key"
        :disabled="place === playing.items.length - 1"
        :aria-label="t('player.next')"
        @click="go(1)"
      >
        ⏭
      </button>
      <span class="mono time">{{ clock(now) }}</span>
      <input
        type="range"
        min="0"
        :max="length || 1"
        step="0.5"
        :value="now"
        :aria-label="t('player.seek')"
        @input="seek"
      />
      <span class="mono time faint">{{ clock(length) }}</span>
      <span v-if="problem && audio" class="trouble">{{ problem }}</span>
      <button class="key" :aria-label="t('player.close')" @click="leave">✕</button>
    </div>
  </div>
</template>

<style scoped>
.player {
  position: fixed;
  z-index: 45;
  inset: auto 0 0;
  background: var(--desk);
  border-top: 1px solid var(--rule-strong);
  box-shadow: 0 -2px 10px rgb(60 50 20 / 12%);
}
.film {
  inset: 0;
  display: flex;
  flex-direction: column;
  background: #14120f;
  color: #f6f3ea;
  border: 0;
}
.stage {
  flex: 1;
  min-height: 0;
  display: grid;
  place-items: center;
}
video {
  max-width: 100%;
  max-height: 100%;
  width: 100%;
  height: 100%;
  object-fit: contain;
  background: #000;
}
.controls {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 61px;
  padding: 0 18px;
}
.film .controls {
  background: #26231d;
  --ink-faint: #b9b09a;
  --accent: #74bfc0;
}
.thumb {
  width: 42px;
  height: 42px;
}
.what {
  display: flex;
  flex-direction: column;
  line-height: 1.3;
  width: 26%;
  min-width: 110px;
  overflow: hidden;
}
.what > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.what b {
  font-weight: 500;
}
.key {
  appearance: none;
  border: 1px solid transparent;
  background: none;
  width: 32px;
  height: 32px;
  border-radius: 4px;
  cursor: pointer;
  font-size: 13px;
  color: inherit;
}
.key:hover:not(:disabled) {
  border-color: var(--rule-strong);
}
.key:disabled {
  opacity: 0.35;
  cursor: default;
}
.main {
  border-color: currentcolor;
  border-radius: 50%;
  width: 36px;
  height: 36px;
}
input[type='range'] {
  flex: 1;
  min-width: 60px;
  accent-color: var(--accent);
}
.trouble {
  color: var(--stamp);
  padding: 0 16px;
}
.film .trouble {
  color: #f0a898;
}
</style>
