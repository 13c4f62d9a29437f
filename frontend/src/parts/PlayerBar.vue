<script setup lang="ts">
/** The player that stays: music plays on while one looks around. */
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { isTyping } from '@/composables/useKeys'
import { usePlayback } from '@/composables/usePlayback'
import { usePlayer } from '@/composables/usePlayer'
import { BACK_SECONDS, isKept, usePosition } from '@/composables/usePosition'
import { clock } from '@/composables/words'
import CoverImage from './CoverImage.vue'

const { t } = useI18n()
const { playing, place, current, step, close } = usePlayer()
const media = useTemplateRef<HTMLAudioElement>('media')
const { told, problem, isMuted, startAt, begin, attach, leave, broke } = usePlayback(
  () => media.value,
)
const paused = ref(true)
const now = ref(0)
const length = computed(() => told.value?.duration_seconds ?? 0)
const position = usePosition(() =>
  told.value && media.value && media.value.readyState > 0
    ? {
        entryId: told.value.entry_id,
        seconds: media.value.currentTime,
        duration: told.value.duration_seconds,
        audio: true,
      }
    : undefined,
)
watch(
  current,
  (item) => {
    document.documentElement.style.setProperty('--player-space', item ? '62px' : '0px')
    now.value = 0
    if (item) void begin({ entryId: item.entry_id, fileId: item.file_id })
    else leave()
  },
  { immediate: true },
)
watch(told, async (what) => {
  if (!what) return
  await nextTick()
  const moment = {
    entryId: what.entry_id,
    seconds: what.position_seconds,
    duration: what.duration_seconds,
    audio: true,
  }
  const kept = isKept(moment) ? Math.max(what.position_seconds - BACK_SECONDS, 0) : 0
  await attach(startAt.value ?? kept)
})
function go(by: number): void {
  position.stop()
  step(by)
}
function end(): void {
  position.stop()
  close()
}
function toggle(): void {
  if (isMuted.value && media.value) media.value.muted = isMuted.value = false
  else if (media.value?.paused) void media.value.play()
  else media.value?.pause()
}
function seek(event: Event): void {
  if (media.value) media.value.currentTime = Number((event.target as HTMLInputElement).value)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!playing.value || isTyping(event.target)) return
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
  timeupdate: () => {
    now.value = media.value?.currentTime ?? 0
    position.move()
  },
  ended: () => go(1),
  error: () => told.value?.mode === 'direct' && broke(media.value?.error?.message ?? ''),
}
onBeforeUnmount(() => {
  end()
  leave()
})
</script>

<template>
  <div v-if="playing && current" class="player audio" role="region" :aria-label="playing.title">
    <audio v-if="told" :key="told.key" ref="media" v-on="events"></audio>
    <div class="controls">
      <RouterLink :to="`/catalog/entry/${playing.entryId}`"
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
          playing.title + (playing.subtitle ? ', ' + playing.subtitle : '')
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
      <span v-if="problem" class="trouble" role="alert">{{ problem.message }}</span>
      <button class="key" :aria-label="t('player.close')" @click="end">✕</button>
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
.controls {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 61px;
  padding: 0 18px;
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
</style>
