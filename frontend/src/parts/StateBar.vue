<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

const props = defineProps<{ states: Record<string, number> }>()
const { t, te } = useI18n()
const ORDER = ['settled', 'waiting', 'name', 'unseen', 'away', 'other']
const total = computed(() => Object.values(props.states).reduce((sum, n) => sum + n, 0))
const parts = computed(() =>
  ORDER.filter((state) => props.states[state]).map((state) => ({
    state,
    count: props.states[state] ?? 0,
  })),
)
const words = computed(() =>
  parts.value
    .map((p) => `${p.count} ${te(`state.${p.state}`) ? t(`state.${p.state}`) : p.state}`)
    .join(', '),
)
</script>

<template>
  <span class="bar" role="img" :aria-label="words" :title="words">
    <i
      v-for="part in parts"
      :key="part.state"
      :class="part.state"
      :style="{ width: `${(100 * part.count) / Math.max(total, 1)}%` }"
    />
  </span>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 1px;
  height: 6px;
  overflow: hidden;
  border-radius: 1px;
  background: var(--rule);
}
i {
  display: block;
  min-width: 3px;
  background: var(--rule-strong);
}
.settled {
  background: var(--moss);
}
.waiting {
  background: repeating-linear-gradient(45deg, var(--ochre) 0 3px, var(--ochre-soft) 3px 5px);
}
.name {
  background: var(--stamp);
}
.away {
  background: repeating-linear-gradient(90deg, var(--rule-strong) 0 2px, transparent 2px 5px);
}
.other {
  background: var(--rule);
}
</style>
