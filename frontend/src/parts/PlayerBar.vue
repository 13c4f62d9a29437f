<script setup lang="ts">
/** The player that stays: music plays on while one looks around. */
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { isTyping } from '@/composables/useKeys'
import { evenedBy, followingOf } from '@/composables/queue'
import { useDecks } from '@/composables/useDecks'
import { isEvened } from '@/composables/useLoudness'
import { useMediaKeys } from '@/composables/useMediaKeys'
import { keepMoment, keptMoment, usePlayer } from '@/composables/usePlayer'
import { usePosition } from '@/composables/usePosition'
import { clock } from '@/composables/words'
import CoverImage from './CoverImage.vue'
import LyricsSheet from './LyricsSheet.vue'
import QueueSheet from './QueueSheet.vue'

const KEEP_EVERY_SECONDS = 5
const { t } = useI18n()
const { queue, current, isWanted, again, hasNext, step, close } = usePlayer()
const first = useTemplateRef<HTMLAudioElement>('first')
const second = useTemplateRef<HTMLAudioElement>('second')
const decks = useDecks(() => [first.value, second.value], {
  following: () => followingOf(queue.value),
  over: () => go(1, true),
  evened: () => (isEvened.value ? evenedBy(queue.value) : 'no'),
})
const { told, problem, isMuted, live } = decks
const paused = ref(true)
const now = ref(0)
const open = ref<'queue' | 'lyrics'>()
const openers = {
  queue: useTemplateRef<HTMLButtonElement>('opensQueue'),
  lyrics: useTemplateRef<HTMLButtonElement>('opensLyrics'),
}
const length = computed(() => told.value?.duration_seconds ?? current.value?.seconds ?? 0)
const page = computed(() => `/catalog/entry/${current.value?.fromId}`)
const position = usePosition(() =>
  told.value && (decks.media()?.readyState ?? 0) > 0
    ? {
        entryId: told.value.entry_id,
        seconds: decks.media()?.currentTime ?? 0,
        duration: told.value.duration_seconds,
        audio: true,
      }
    : undefined,
)
watch(
  () => current.value !== undefined,
  (is) => document.documentElement.style.setProperty('--player-space', is ? '62px' : '0px'),
  { immediate: true },
)
/** A queue that was kept waits for a person; then it goes on where it was. */
watch(
  () => [current.value?.key, isWanted.value, again.value] as const,
  ([key, wanted, times], before) => {
    const song = current.value
    const kept = song && !before && key !== undefined ? keptMoment(key) : undefined
    const goesOn = before?.[0] === key && !before?.[1] && before?.[2] === times
    now.value = kept ?? (goesOn ? now.value : 0)
    if (song && wanted) void decks.play(song, goesOn && now.value > 0 ? now.value : undefined)
    else decks.leave()
  },
  { immediate: true },
)
function go(by: 1 | -1, ended = false): void {
  position.stop()
  if (!step(by, ended)) paused.value = true
}
function end(): void {
  position.stop()
  open.value = undefined
  close()
}
function toggle(): void {
  if (!isWanted.value) isWanted.value = true
  else if (isMuted.value) decks.unmute()
  else if (decks.media()?.paused) void decks.media()?.play()
  else decks.media()?.pause()
}
/** A song that has run for a while begins anew first, as on every machine with such a key. */
function back(): void {
  const media = decks.media()
  if (media && media.currentTime > 5) media.currentTime = 0
  else go(-1)
}
function seek(seconds: number): void {
  const media = decks.media()
  if (media && told.value) media.currentTime = seconds
  else now.value = seconds
}
/** Open a sheet above the player, or close the one that is. */
function turn(which: 'queue' | 'lyrics'): void {
  const isClosed = open.value === which
  open.value = isClosed ? undefined : which
  if (isClosed) openers[which].value?.focus()
}
function keep(): void {
  if (current.value) keepMoment(current.value.key, now.value)
}
useMediaKeys(told, {
  toggle,
  seek: (by) => seek(now.value + by),
  next: () => go(1),
  previous: back,
})
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!current.value || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey)
    return
  if (event.key === ' ' && (event.target as HTMLElement).tagName !== 'BUTTON') {
    event.preventDefault()
    toggle()
  } else if (event.key === 'q') turn('queue')
  else if (event.key === 'l') turn('lyrics')
})
let kept = 0
const events = {
  play: () => (paused.value = false),
  pause: () => {
    paused.value = true
    position.keep()
    keep()
  },
  timeupdate: () => {
    now.value = decks.media()?.currentTime ?? 0
    decks.move()
    position.move()
    if (Math.abs(now.value - kept) >= KEEP_EVERY_SECONDS) {
      kept = now.value
      keep()
    }
  },
  ended: () => go(1, true),
  error: () => told.value?.mode === 'direct' && decks.broke(decks.media()?.error?.message ?? ''),
}
/** What the other place does is not heard, and says nothing. */
const of = (place: number) =>
  Object.fromEntries(
    Object.entries(events).map(([name, act]) => [name, () => live.value === place && act()]),
  )
useEventListener(window, 'pagehide', keep)
onBeforeUnmount(() => {
  position.stop()
  keep()
  isWanted.value = false
  decks.leave()
})
</script>

<template>
  <div v-if="current" class="player audio" role="region" :aria-label="t('queue.player')">
    <QueueSheet v-if="open === 'queue'" @close="turn('queue')" />
    <LyricsSheet
      v-else-if="open === 'lyrics'"
      :entry-id="current.entryId"
      :title="current.label"
      :now="now"
      @seek="seek"
      @close="turn('lyrics')"
    />
    <audio ref="first" :class="{ live: live === 0 }" preload="auto" v-on="of(0)"></audio>
    <audio ref="second" :class="{ live: live === 1 }" preload="auto" v-on="of(1)"></audio>
    <div class="controls">
      <RouterLink :to="page"
        ><CoverImage
          :picture="current.picture"
          :title="current.from"
          kind="album"
          :size="240"
          class="thumb"
      /></RouterLink>
      <span class="what"
        ><b>{{ current.label }}</b
        ><span class="faint">{{
          [current.by, current.from].filter(Boolean).join(', ')
        }}</span></span
      >
      <button
        v-if="queue.songs.length > 1"
        class="key"
        :aria-label="t('player.previous')"
        @click="back"
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
        v-if="queue.songs.length > 1"
        class="key"
        :disabled="!hasNext"
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
        @input="seek(Number(($event.target as HTMLInputElement).value))"
      />
      <span class="mono time faint length">{{ clock(length) }}</span>
      <span v-if="problem" class="trouble" role="alert">{{ problem.message }}</span>
      <button
        ref="opensLyrics"
        class="key list"
        data-test="open-lyrics"
        :aria-expanded="open === 'lyrics'"
        :title="open === 'lyrics' ? t('lyrics.hide') : t('lyrics.open')"
        :aria-label="open === 'lyrics' ? t('lyrics.hide') : t('lyrics.open')"
        @click="turn('lyrics')"
      >
        ❝
      </button>
      <button
        ref="opensQueue"
        class="key list mono"
        data-test="open-queue"
        :aria-expanded="open === 'queue'"
        :title="open === 'queue' ? t('queue.hide') : t('queue.open')"
        @click="turn('queue')"
      >
        <span aria-hidden="true">≡ </span
        ><span class="counted">{{ queue.place + 1 }}/{{ queue.songs.length }}</span>
        <span class="only-said">{{ open === 'queue' ? t('queue.hide') : t('queue.open') }}</span>
      </button>
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
.list {
  width: auto;
  padding: 0 8px;
  white-space: nowrap;
}
.list[aria-expanded='true'] {
  border-color: var(--rule-strong);
  background: var(--card);
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
@media (max-width: 760px) {
  .controls {
    gap: 4px;
    padding: 0 8px;
  }
  .time,
  .counted {
    display: none;
  }
  .what {
    flex: 1;
    min-width: 60px;
  }
  .key {
    flex: none;
  }
  input[type='range'] {
    position: absolute;
    inset: -8px 0 auto;
    width: 100%;
    height: 16px;
    margin: 0;
  }
}
</style>
