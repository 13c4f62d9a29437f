<script setup lang="ts">
/** The card at the foot of a film: where one is, and what one can do. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Playback } from '@/api/client'
import PlayChoice from './PlayChoice.vue'
import PlayTimeline from './PlayTimeline.vue'

const props = defineProps<{
  told: Playback
  now: number
  ready: number
  paused: boolean
  volume: number
  speed: number
  text: number
  height: number
  canFloat: boolean
  canCast: boolean
}>()
const emit = defineEmits<{
  toggle: []
  seek: [seconds: number]
  step: [seconds: number]
  next: []
  volume: [share: number]
  sound: [index: number]
  text: [index: number]
  height: [lines: number]
  speed: [rate: number]
  version: [file: number]
  facts: []
  float: []
  cast: []
  full: []
}>()
const { t, n } = useI18n()
const HEIGHTS = [2160, 1440, 1080, 720, 480, 360, 240]
const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 2]
const audio = computed(() => props.told.width === null)
const chapter = computed(() => {
  const at = props.told.chapters.findLastIndex((one) => one.start_seconds <= props.now)
  const title = props.told.chapters[at]?.title
  if (!title) return ''
  return /^\d+$/.test(title)
    ? t('player.chapter', { n: at + 1 })
    : t('player.chapterNamed', { n: at + 1, title })
})
const sounds = computed(() =>
  props.told.sounds.map((one) => ({ value: one.index, label: one.label })),
)
const texts = computed(() => [
  { value: -1, label: t('player.off') },
  ...props.told.texts.map((one) => {
    const said = one.flags.filter((flag) => ['forced', 'sdh'].includes(flag))
    const about = said.map((flag) => t(`player.flag.${flag}`)).join(', ')
    return { value: one.index, label: about ? `${one.label} (${about})` : one.label }
  }),
])
const pictures = computed(() => {
  const own = props.told.source_height ?? 0
  const first = { value: 0, label: own ? t('player.asItIsAt', { n: own }) : t('player.asItIs') }
  const { height } = props.told
  const isLess = props.height < 0 && height !== null && height < own
  return [
    { value: -1, label: isLess ? t('player.byLineAt', { n: height }) : t('player.byLine') },
    first,
    ...HEIGHTS.filter((one) => one < own).map((one) => ({ value: one, label: `${one}p` })),
  ]
})
const speeds = SPEEDS.map((one) => ({ value: one, label: `${n(one)}×` }))
const versions = computed(() =>
  props.told.versions.map((one) => ({ value: one.file_id, label: one.label })),
)
</script>

<template>
  <div class="foot">
    <p class="tab">
      <b>{{ told.title }}</b>
      <span v-if="chapter || told.subtitle">{{ chapter || told.subtitle }}</span>
    </p>
    <div class="controls">
      <PlayTimeline
        :told="told"
        :now="now"
        :ready="ready"
        :chapters="told.chapters"
        @seek="emit('seek', $event)"
      />
      <div class="row">
        <button class="key" :aria-label="t('player.back10')" @click="emit('step', -10)">
          10&nbsp;↺
        </button>
        <button
          class="key main"
          data-test="toggle"
          :aria-label="paused ? t('player.play') : t('player.pause')"
          @click="emit('toggle')"
        >
          {{ paused ? '▶' : '❚❚' }}
        </button>
        <button class="key" :aria-label="t('player.forth10')" @click="emit('step', 10)">
          ↻&nbsp;10
        </button>
        <button
          v-if="told.next_entry_id"
          class="key"
          data-test="next"
          :aria-label="t('player.next')"
          @click="emit('next')"
        >
          ▶❙ <span class="wide">{{ t('player.next') }}</span>
        </button>
        <label class="volume">
          <span aria-hidden="true">{{ volume ? '◔' : '○' }}</span>
          <input
            type="range"
            min="0"
            max="1"
            step="0.05"
            :value="volume"
            :aria-label="t('player.volume')"
            @input="emit('volume', Number(($event.target as HTMLInputElement).value))"
            @keydown.left.right.prevent
          />
        </label>
        <span class="room"></span>
        <PlayChoice
          v-if="sounds.length > 1"
          :name="t('player.sound')"
          :chosen="told.sound ?? 0"
          :options="sounds"
          data-test="sound"
          @choose="emit('sound', $event)"
        />
        <PlayChoice
          v-if="texts.length > 1"
          :name="t('player.text')"
          :chosen="text"
          :options="texts"
          data-test="text"
          @choose="emit('text', $event)"
        />
        <PlayChoice
          v-if="!audio"
          :name="t('player.picture')"
          :chosen="height"
          :options="pictures"
          data-test="height"
          @choose="emit('height', $event)"
        />
        <PlayChoice
          v-if="versions.length > 1"
          :name="t('player.version')"
          :chosen="told.file_id"
          :options="versions"
          @choose="emit('version', $event)"
        />
        <PlayChoice
          :name="t('player.speed')"
          :chosen="speed"
          :options="speeds"
          @choose="emit('speed', $event)"
        />
        <button v-if="canCast" class="key" @click="emit('cast')">{{ t('player.cast') }}</button>
        <button class="key" :aria-label="t('player.facts')" @click="emit('facts')">ⓘ</button>
        <button
          v-if="canFloat"
          class="key wide"
          :aria-label="t('player.float')"
          @click="emit('float')"
        >
          ◱
        </button>
        <button v-if="!audio" class="key" :aria-label="t('player.full')" @click="emit('full')">
          ⛶
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.foot {
  position: absolute;
  inset: auto 40px 26px;
}
.tab {
  display: inline-flex;
  gap: 9px;
  align-items: baseline;
  max-width: 80%;
  margin: 0 0 -1px 22px;
  padding: 6px 16px;
  border: 1px solid #544c3c;
  border-bottom: 0;
  border-radius: 4px 4px 0 0;
  background: #26231d;
  color: #b9b09a;
}
.tab b {
  font: 700 15px/1.4 var(--serif);
  color: #f6f3ea;
}
.tab > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.controls {
  padding: 14px 22px 12px;
  border: 1px solid #544c3c;
  border-radius: 4px;
  background: #26231d;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
  margin-top: 8px;
}
.room {
  flex: 1;
}
.key {
  appearance: none;
  padding: 5px 9px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: none;
  color: #c2b9a5;
  cursor: pointer;
}
.key:hover {
  background: #38332a;
  color: #f6f3ea;
}
.main {
  width: 38px;
  height: 38px;
  padding: 0;
  border-color: currentcolor;
  border-radius: 50%;
  font-size: 12px;
  color: #f6f3ea;
}
.volume {
  display: inline-flex;
  gap: 7px;
  align-items: center;
  padding: 0 8px;
  color: #c2b9a5;
}
.volume input {
  width: 84px;
  accent-color: #9cc9c6;
}
@media (max-width: 760px) {
  .foot {
    inset: auto 8px 8px;
  }
  .controls {
    padding: 10px 12px 8px;
  }
  .tab {
    margin-inline-start: 12px;
  }
  .volume,
  .wide {
    display: none;
  }
}
</style>
