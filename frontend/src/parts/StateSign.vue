<script setup lang="ts">
import { useI18n } from 'vue-i18n'

defineProps<{ state: string }>()
const { t, te } = useI18n()
const SHAPES: Record<string, string> = {
  settled: '●',
  waiting: '◐',
  name: '▲',
  unseen: '○',
  none: '○',
  away: '◌',
  other: '·',
}
</script>

<template>
  <span
    class="sign"
    :class="state"
    role="img"
    :aria-label="te(`state.${state}`) ? t(`state.${state}`) : state"
    :title="te(`state.${state}`) ? t(`state.${state}`) : state"
    >{{ SHAPES[state] ?? '·' }}</span
  >
</template>

<style scoped>
.sign {
  display: inline-block;
  width: 14px;
  text-align: center;
  font:
    13px/1 'Noto Sans Symbols2',
    'DejaVu Sans',
    var(--sans);
  color: var(--ink-faint);
  flex: none;
}
.settled {
  color: var(--moss);
}
.waiting {
  color: var(--ochre);
}
.name {
  color: var(--stamp);
}
</style>
