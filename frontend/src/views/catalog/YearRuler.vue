<script setup lang="ts">
/** The years of a shelf as one slider to travel along: the finger or the arrow keys go from year to year that has something. */
import { computed, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

const HEIGHT = 18
const MOST_PX = 24
/** The year that is chosen is said with its number, over its neighbours. */
const TOO_NEAR = 4
const props = defineProps<{ years: Record<string, number>; chosen: string }>()
const emit = defineEmits<{ choose: [year: string] }>()
const { t } = useI18n()
const scale = useTemplateRef<HTMLElement>('scale')
/** The year under the finger or the pointer; nothing where it is elsewhere. */
const under = ref<number>()
const isHeld = ref(false)
const span = computed(() => {
  const known = Object.keys(props.years)
    .filter((y) => /^\d{4}$/.test(y))
    .map(Number)
  if (!known.length) return []
  const [from, to] = [Math.min(...known), Math.max(...known)]
  return Array.from({ length: to - from + 1 }, (_, i) => ({
    year: from + i,
    count: props.years[String(from + i)] ?? 0,
  }))
})
const filled = computed(() => span.value.filter((y) => y.count).map((y) => y.year))
const most = computed(() => Math.max(...span.value.map((y) => y.count), 1))
const said = computed(() =>
  props.chosen ? `${props.chosen}: ${props.years[props.chosen] ?? 0}` : t('catalog.allYears'),
)
const shown = computed(() => under.value ?? Number(props.chosen))
/** Decades are named; where there is none, the first year, and the last one if there is room. */
function isNamed(year: number): boolean {
  if (Math.abs(year - shown.value) < TOO_NEAR) return false
  const [first, last] = [span.value[0]?.year ?? 0, span.value.at(-1)?.year ?? 0]
  if (span.value.some((y) => y.year % 10 === 0)) return year % 10 === 0
  return year === first || (year === last && last - first > 2)
}
/** The year with something that lies nearest to a place on the scale. */
function yearAt(x: number): number | undefined {
  const box = scale.value?.getBoundingClientRect()
  const [first] = span.value
  if (!box || !first) return undefined
  const at = first.year + ((x - box.left) / (box.width || 1)) * span.value.length - 0.5
  return filled.value.reduce((best, year) =>
    Math.abs(year - at) < Math.abs(best - at) ? year : best,
  )
}
function hold(event: PointerEvent): void {
  isHeld.value = true
  scale.value?.setPointerCapture?.(event.pointerId)
  under.value = yearAt(event.clientX)
}
function letGo(event: PointerEvent): void {
  const year = isHeld.value ? yearAt(event.clientX) : undefined
  leave()
  if (year) emit('choose', String(year) === props.chosen ? '' : String(year))
}
function leave(): void {
  isHeld.value = false
  under.value = undefined
}
function travel(event: KeyboardEvent): void {
  const at = filled.value.indexOf(Number(props.chosen))
  const last = filled.value.length - 1
  const to: Record<string, number> = {
    ArrowRight: Math.min(at + 1, last),
    ArrowUp: Math.min(at + 1, last),
    ArrowLeft: at < 0 ? last : Math.max(at - 1, 0),
    ArrowDown: at < 0 ? last : Math.max(at - 1, 0),
    Home: 0,
    End: last,
  }
  const place = to[event.key]
  if (place === undefined && event.key !== 'Delete' && event.key !== 'Backspace') return
  event.preventDefault()
  event.stopPropagation()
  emit('choose', place === undefined ? '' : String(filled.value[place]))
}
</script>

<template>
  <div class="ruler">
    <div
      v-if="span.length"
      ref="scale"
      class="scale"
      :style="{ maxWidth: `${span.length * MOST_PX}px` }"
      role="slider"
      tabindex="0"
      :aria-label="t('catalog.year')"
      :aria-valuemin="span[0]!.year"
      :aria-valuemax="span.at(-1)!.year"
      :aria-valuenow="Number(chosen) || span.at(-1)!.year"
      :aria-valuetext="said"
      @keydown="travel"
      @pointerdown.prevent="hold"
      @pointermove="under = yearAt($event.clientX)"
      @pointerup="letGo"
      @pointercancel="leave"
      @pointerleave="leave"
    >
      <span
        v-for="y in span"
        :key="y.year"
        class="tick"
        :class="{
          decade: y.year % 10 === 0,
          at: y.year === shown,
          off: chosen && y.year !== shown,
        }"
      >
        <i :style="{ height: y.count ? `${4 + (HEIGHT - 4) * (y.count / most)}px` : '0' }" /><small
          v-if="y.year === shown"
          >{{ y.year }}: {{ y.count }}</small
        ><small v-else-if="isNamed(y.year)">{{ y.year }}</small>
      </span>
    </div>
    <button v-if="chosen" class="link all" @click="emit('choose', '')">
      {{ t('catalog.allYears') }}
    </button>
  </div>
</template>

<style scoped>
.ruler {
  display: flex;
  flex: 1;
  align-items: center;
  min-width: 0;
}
.scale {
  display: flex;
  flex: 0 1 auto;
  align-items: flex-end;
  width: 100%;
  min-width: 0;
  height: 36px;
  padding-bottom: 13px;
  cursor: pointer;
  touch-action: pan-y;
  user-select: none;
}
.tick {
  position: relative;
  flex: 1 1 0;
  min-width: 2px;
  height: 23px;
  display: flex;
  align-items: flex-end;
  justify-content: center;
  border-bottom: 1px solid var(--rule-strong);
}
.tick i {
  display: block;
  width: 62%;
  min-width: 2px;
  background: var(--accent);
  border-radius: 1px 1px 0 0;
}
.tick.decade::after {
  content: '';
  position: absolute;
  left: 50%;
  bottom: -4px;
  height: 4px;
  border-left: 1px solid var(--rule-strong);
}
.tick.off i {
  opacity: 0.35;
}
.tick.at i {
  background: var(--stamp);
  opacity: 1;
}
small {
  position: absolute;
  top: 26px;
  left: 50%;
  transform: translateX(-50%);
  font: 10px/1 var(--mono);
  color: var(--ink-faint);
  white-space: nowrap;
}
.at small {
  color: var(--stamp);
  background: var(--paper);
  padding: 0 2px;
  z-index: 1;
}
@media (max-width: 760px) {
  .ruler {
    flex-basis: 100%;
    order: 5;
  }
  .tick:not(.at) small {
    display: none;
  }
}
.all {
  margin-inline-start: 12px;
  white-space: nowrap;
}
</style>
