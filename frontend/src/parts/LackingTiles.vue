<script setup lang="ts">
/** Films of a set that are not here: places left free beside those that are. */
import { useI18n } from 'vue-i18n'
import type { Lacking } from '@/api/client'
import { day } from '@/composables/words'

defineProps<{ lacks: Lacking['lacks'] }>()
const { t, locale } = useI18n()
</script>

<template>
  <div v-for="one in lacks" :key="one.number" class="free" data-test="lacking">
    <span class="place">
      <span class="mono number" aria-hidden="true">{{ one.number }}</span>
      <span class="soft">{{ one.is_out ? t('missing.notHere') : t('missing.notOut') }}</span>
    </span>
    <span class="slip">
      <b :title="one.title">{{ one.title }}</b>
      <span class="soft">{{ one.is_out ? one.date.slice(0, 4) : day(one.date, locale) }}</span>
    </span>
  </div>
</template>

<style scoped>
.free {
  padding: 5px 5px 0;
  border: 1px dashed var(--rule-strong);
  border-radius: 3px;
}
.place {
  display: flex;
  flex-direction: column;
  gap: 4px;
  align-items: center;
  justify-content: center;
  aspect-ratio: 2 / 3;
  font-size: 12.5px;
  text-align: center;
}
.number {
  font-size: 26px;
  color: var(--ink-faint);
}
.slip {
  display: block;
  min-height: 46px;
  margin-top: 5px;
  padding: 6px 3px;
  border-top: 1px dashed var(--rule);
  font-size: 12.5px;
  line-height: 1.3;
}
b {
  display: -webkit-box;
  overflow: hidden;
  font-weight: 600;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
}
</style>
