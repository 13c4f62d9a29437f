<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

const props = defineProps<{ years: Record<string, number>; chosen: string }>()
const emit = defineEmits<{ choose: [year: string] }>()
const { t } = useI18n()
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
const most = computed(() => Math.max(...span.value.map((y) => y.count), 1))
/** Decades are named; where there is none, the first year, and the last one if there is room. */
function isNamed(year: number): boolean {
  const [first, last] = [span.value[0]?.year ?? 0, span.value.at(-1)?.year ?? 0]
  if (span.value.some((y) => y.year % 10 === 0)) return year % 10 === 0
  return year === first || (year === last && last - first > 2)
}
const HEIGHT = 18
</script>

<template>
  <div class="ruler" role="group" :aria-label="t('catalog.year')">
    <button
      v-for="y in span"
      :key="y.year"
      class="plain tick"
      :class="{
        decade: y.year % 10 === 0,
        at: String(y.year) === chosen,
        off: chosen && String(y.year) !== chosen,
      }"
      :disabled="!y.count"
      :aria-pressed="String(y.year) === chosen"
      :aria-label="`${y.year}: ${y.count}`"
      :title="`${y.year}: ${y.count}`"
      @click="emit('choose', String(y.year) === chosen ? '' : String(y.year))"
    >
      <i :style="{ height: y.count ? `${4 + (HEIGHT - 4) * (y.count / most)}px` : '0' }" /><small
        v-if="isNamed(y.year) || String(y.year) === chosen"
        >{{ y.year }}</small
      >
    </button>
    <button v-if="chosen" class="link all" @click="emit('choose', '')">
      {{ t('catalog.allYears') }}
    </button>
  </div>
</template>

<style scoped>
.ruler {
  display: flex;
  flex: 1;
  align-items: flex-end;
  min-width: 0;
  height: 36px;
  position: relative;
  padding-bottom: 13px;
}
.tick {
  position: relative;
  flex: 1 1 0;
  min-width: 2px;
  max-width: 24px;
  height: 23px;
  display: flex;
  align-items: flex-end;
  justify-content: center;
  border-bottom: 1px solid var(--rule-strong);
}
.tick:disabled {
  cursor: default;
}
.tick i {
  display: block;
  width: 62%;
  min-width: 2px;
  background: var(--accent);
  border-radius: 1px 1px 0 0;
}
.tick:hover:not(:disabled) i {
  background: var(--stamp);
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
