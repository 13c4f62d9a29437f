<script setup lang="ts">
/** A service that is asked from here: what it is called, where it is, how the last try went, and what can be done. */
import { useI18n } from 'vue-i18n'
import ProblemNote from '@/parts/ProblemNote.vue'

defineProps<{
  service: {
    name: string
    url: string
    problem: string
    checked_at: string | null
    has_key: boolean
  }
  /** What went wrong when something was done with it. */
  error?: unknown
}>()
const { t } = useI18n()
</script>

<template>
  <div class="service">
    <div>
      <b>{{ service.name }}</b> <span class="mono soft">{{ service.url }}</span>
      <span class="line" :class="{ wrong: service.problem }">{{
        service.problem || (service.checked_at ? t('house.fine') : t('house.untested'))
      }}</span>
      <span v-if="$slots.more" class="line"><slot name="more" /></span>
    </div>
    <span class="soft">{{ service.has_key ? t('house.keySet') : t('house.keyNone') }}</span>
    <span class="acts"><slot name="acts" /></span>
    <slot />
    <ProblemNote v-if="error" :error="error" class="wide" />
  </div>
</template>

<style scoped>
.service {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 24px;
  align-items: center;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.service:last-child {
  border: 0;
}
b {
  font: 700 14.5px var(--serif);
}
.line {
  display: block;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.wrong {
  color: var(--stamp);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.wide,
.service > :slotted(form) {
  grid-column: 1 / -1;
}
@media (max-width: 860px) {
  .service {
    grid-template-columns: 1fr;
  }
}
</style>
