<script setup lang="ts">
/** The time of a film: what was seen, what is there already, its chapters, and a picture of the moment under the pointer. */
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { byLink, type Playback } from '@/api/client'
import { partAt } from '@/composables/usePlayback'
import { cut, useSheet } from '@/composables/useSheet'
import { clock } from '@/composables/words'

const props = defineProps<{
  told: Playback
  now: number
  ready: number
  chapters: readonly { start_seconds: number; title: string }[]
}>()
const emit = defineEmits<{ seek: [seconds: number] }>()
const { t } = useI18n()
const total = computed(() => props.told.duration_seconds || 1)
const share = (seconds: number) => `${Math.min(Math.max(seconds / total.value, 0), 1) * 100}%`
const under = ref<number>()
const bar = ref<HTMLElement>()
/** Where a time line is pointed at without a sheet, single pictures are asked for, every few seconds of the film. */
const STEP_SECONDS = 10
const pointed = computed(() => {
  const part = partAt(props.told, under.value ?? props.now)
  return {
    file: part?.file_id ?? props.told.file_id,
    at: (under.value ?? 0) - (part?.start_seconds ?? 0),
  }
})
const sheet = useSheet(computed(() => (props.told.width === null ? undefined : pointed.value.file)))
const picture = computed(() =>
  under.value === undefined || props.told.width === null || byLink()
    ? ''
    : `/api/files/${pointed.value.file}/frame?at=${Math.floor(pointed.value.at / STEP_SECONDS) * STEP_SECONDS}`,
)
const chapter = computed(() => {
  const at = under.value
  return at === undefined
    ? undefined
    : [...props.chapters].reverse().find((one) => one.start_seconds <= at)?.title
})
function point(event: PointerEvent): void {
  const box = bar.value?.getBoundingClientRect()
  if (!box?.width || event.pointerType === 'touch') return
  under.value = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) * total.value
}
</script>

<template>
  <div class="line">
    <span class="mono">{{ clock(now) }}</span>
    <div ref="bar" class="bar" @pointermove="point" @pointerleave="under = undefined">
      <span class="rail"
        ><i class="ready" :style="{ width: share(ready) }"></i
        ><i class="gone" :style="{ width: share(now) }"></i
        ><i
          v-for="one in chapters.slice(1)"
          :key="one.start_seconds"
          class="notch"
          :style="{ left: share(one.start_seconds) }"
        ></i
      ></span>
      <input
        type="range"
        min="0"
        :max="total"
        step="0.1"
        :value="now"
        :aria-label="t('player.seek')"
        :aria-valuetext="clock(now)"
        @input="emit('seek', Number(($event.target as HTMLInputElement).value))"
        @keydown.left.right.prevent
      />
      <span v-if="under !== undefined" class="look" :style="{ left: share(under) }">
        <i v-if="sheet" class="cut" :style="cut(sheet, pointed.at)"></i
        ><img v-else-if="picture" :src="picture" alt="" />
        <span
          >{{ clock(under) }}<template v-if="chapter"> · {{ chapter }}</template></span
        >
      </span>
    </div>
    <span class="mono">−{{ clock(total - now) }}</span>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 16px;
}
.mono {
  color: #b9b09a;
  font-size: 13px;
}
.bar {
  position: relative;
  flex: 1;
  height: 20px;
}
.rail {
  position: absolute;
  inset: 8px 0;
  border-radius: 2px;
  background: #4a443a;
}
.rail i {
  position: absolute;
  inset-block: 0;
  left: 0;
  border-radius: 2px;
}
.ready {
  background: #6c6455;
}
.gone {
  background: #9cc9c6;
}
.rail .notch {
  width: 2px;
  inset-block: -2px;
  background: #26231d;
}
input {
  appearance: none;
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  margin: 0;
  background: none;
  cursor: pointer;
}
input::-webkit-slider-thumb {
  appearance: none;
  width: 14px;
  height: 14px;
  border-radius: 50%;
  background: #9cc9c6;
}
input::-moz-range-thumb {
  width: 14px;
  height: 14px;
  border: 0;
  border-radius: 50%;
  background: #9cc9c6;
}
.look {
  position: absolute;
  bottom: 26px;
  transform: translateX(-50%);
  padding: 4px;
  border-radius: 2px;
  background: #fffdf7;
  color: #1e2a2f;
  font-size: 12px;
  text-align: center;
  white-space: nowrap;
  pointer-events: none;
  box-shadow: 0 2px 10px rgb(0 0 0 / 40%);
}
.cut {
  display: block;
  margin: 0 auto;
  background-color: #d9d2c0;
}
.look img {
  display: block;
  height: 92px;
  min-width: 120px;
  object-fit: cover;
  background: #d9d2c0;
}
@media (max-width: 760px) {
  .line {
    gap: 10px;
  }
}
</style>
