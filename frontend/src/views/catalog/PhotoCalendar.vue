<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

const MOST_PX = 40
const props = defineProps<{ months: Record<string, number>; at: string }>()
const emit = defineEmits<{ jump: [month: string] }>()
const { t, locale } = useI18n()
const rows = computed(() =>
  Object.entries(props.months)
    .map(([month, count]) => ({
      month: month === '?' ? '' : month,
      count,
      year: month.slice(0, 4),
    }))
    .sort((one, other) => other.month.localeCompare(one.month)),
)
const most = computed(() => Math.max(...rows.value.map((row) => row.count), 1))
function name(month: string): string {
  if (!month) return t('catalog.undated')
  if (month.length < 7) return month
  return new Intl.DateTimeFormat(String(locale.value), { month: 'short' }).format(
    new Date(`${month}-15`),
  )
}
</script>

<template>
  <div role="navigation" class="calendar" :aria-label="t('field.date')">
    <button v-if="at" class="link" @click="emit('jump', '')">{{ t('catalog.newest') }}</button>
    <template v-for="(row, index) in rows" :key="row.month">
      <b v-if="row.month && row.year !== rows[index - 1]?.year" class="mono">{{ row.year }}</b>
      <button
        class="plain month"
        :class="{ at: row.month === at }"
        :aria-pressed="row.month === at"
        :disabled="!row.month"
        @click="emit('jump', row.month)"
      >
        {{ name(row.month)
        }}<i :style="{ width: `${Math.max(3, Math.round((MOST_PX * row.count) / most))}px` }" />
      </button>
    </template>
  </div>
</template>

<style scoped>
.calendar {
  position: sticky;
  top: 120px;
  align-self: start;
  max-height: calc(100vh - 140px);
  overflow: auto;
  border-inline-end: 1px solid var(--rule-strong);
  scrollbar-width: thin;
}
.calendar b {
  display: block;
  margin: 10px 0 2px;
  font-size: 12.5px;
  color: var(--ink);
  font-weight: 500;
}
.calendar b:first-child {
  margin-top: 0;
}
.month {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
  width: 100%;
  height: 24px;
  font-size: 12px;
  color: var(--ink-soft);
}
.month:hover:not(:disabled),
.month.at {
  color: var(--accent);
}
.month.at {
  font-weight: 600;
}
.calendar i {
  height: 5px;
  background: var(--accent);
  opacity: 0.65;
}
@media (max-width: 760px) {
  .calendar {
    display: none;
  }
}
</style>
