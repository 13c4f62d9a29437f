<script setup lang="ts">
/** The top of a shelf: its tabs, what it is filtered by, and how much that leaves. */
import { useI18n } from 'vue-i18n'
import CatalogTabs from './CatalogTabs.vue'

defineProps<{
  shelf: string
  /** Words; a shelf without them has no such field. */
  filter?: string
  total?: string
}>()
const emit = defineEmits<{ filter: [words: string | undefined] }>()
const { t } = useI18n()
</script>

<template>
  <div class="top">
    <CatalogTabs :shelf="shelf" />
    <slot />
    <input
      v-if="filter !== undefined"
      type="search"
      class="filter"
      :value="filter"
      :placeholder="t('catalog.filter')"
      :aria-label="t('catalog.filter')"
      @input="emit('filter', ($event.target as HTMLInputElement).value || undefined)"
    />
    <span
      v-if="total"
      class="mono faint"
      :class="{ 'to-end': filter === undefined }"
      data-test="total"
      >{{ total }}</span
    >
    <slot name="acts" />
  </div>
</template>

<style scoped>
.top {
  position: sticky;
  top: 54px;
  z-index: 20;
  display: flex;
  align-items: center;
  gap: 18px;
  margin: 0 -24px 16px;
  padding: 9px 24px;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
}
.filter {
  width: 150px;
  height: 30px;
  margin-inline-start: auto;
  padding: 0 10px;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.to-end {
  margin-inline-start: auto;
}
@media (max-width: 760px) {
  .top {
    position: static;
    flex-wrap: wrap;
    gap: 8px;
    margin: 0 -12px 12px;
    padding: 8px 12px;
  }
  .filter {
    flex: 1;
  }
}
</style>
