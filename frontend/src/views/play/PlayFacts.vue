<script setup lang="ts">
/** What is sent and why, and how it goes. */
import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Playback } from '@/api/client'
import { ENOUGH_KBPS, useLine } from '@/composables/useLine'

const props = defineProps<{ told: Playback; media: HTMLMediaElement | null }>()
const { t, n } = useI18n()
const { kept: line } = useLine()
const megabits = (kbps: number) =>
  t('player.megabits', { n: n(kbps / 1000, { maximumFractionDigits: 1 }) })
const dropped = ref('')
const buffer = ref('')
useIntervalFn(
  () => {
    const media = props.media
    if (!media) return
    const ranges = media.buffered
    let end = media.currentTime
    for (let i = 0; i < ranges.length; i++)
      if (ranges.start(i) <= media.currentTime + 0.2) end = Math.max(end, ranges.end(i))
    buffer.value = t('player.seconds', { n: Math.round(end - media.currentTime) })
    if (media instanceof HTMLVideoElement) {
      const quality = media.getVideoPlaybackQuality()
      dropped.value = `${quality.droppedVideoFrames} / ${quality.totalVideoFrames}`
    }
  },
  1000,
  { immediateCallback: true },
)
</script>

<template>
  <dl class="facts">
    <dt>{{ t('player.way') }}</dt>
    <dd>{{ t(`player.mode.${told.mode}`) }}</dd>
    <template v-if="told.reasons.length">
      <dt>{{ t('player.why') }}</dt>
      <dd>
        <span v-for="reason in told.reasons" :key="reason">{{ t(`player.reason.${reason}`) }}</span>
      </dd>
    </template>
    <template v-if="told.width">
      <dt>{{ t('player.picture') }}</dt>
      <dd class="mono">{{ told.width }} × {{ told.height }}</dd>
      <dt>{{ t('player.dropped') }}</dt>
      <dd class="mono">{{ dropped }}</dd>
    </template>
    <template v-if="told.kbps">
      <dt>{{ t('player.rate') }}</dt>
      <dd class="mono">{{ megabits(told.kbps) }}</dd>
    </template>
    <template v-if="line && line.kbps < ENOUGH_KBPS">
      <dt>{{ t('player.line') }}</dt>
      <dd class="mono">{{ megabits(line.kbps) }}</dd>
    </template>
    <dt>{{ t('player.buffer') }}</dt>
    <dd class="mono">{{ buffer }}</dd>
  </dl>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  margin: 0;
  padding: 14px 18px;
  max-width: 420px;
  border: 1px solid #544c3c;
  border-radius: 4px;
  background: rgb(38 35 29 / 94%);
  font-size: 13px;
}
dt {
  color: #b9b09a;
}
dd {
  margin: 0;
}
dd span {
  display: block;
}
</style>
