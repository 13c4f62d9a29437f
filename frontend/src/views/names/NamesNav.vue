<script setup lang="ts">
/** What the findings are narrowed down by: a check, a library; and other places of order. */
import { useI18n } from 'vue-i18n'
import { useStatus } from '@/composables/useStatus'

defineProps<{
  all: number
  checks: { slug: string; title: string; severity: string; count: number }[]
  perLibrary: { id: number; name: string; count: number }[]
  slug: string | undefined
  library: number | undefined
}>()
const emit = defineEmits<{ turn: [query: Record<string, string>] }>()
const { t } = useI18n()
const { data: status } = useStatus()
</script>

<template>
  <aside>
    <button class="plain row all" :class="{ at: !slug && !library }" @click="emit('turn', {})">
      <span></span><span>{{ t('names.all') }}</span
      ><b class="mono">{{ all }}</b>
    </button>
    <RouterLink v-if="status?.manages" class="row" to="/names/twice"
      ><span></span><span>{{ t('twice.title') }}</span></RouterLink
    >
    <RouterLink v-if="status?.manages" class="row" to="/names/missing"
      ><span></span><span>{{ t('missing.title') }}</span></RouterLink
    >
    <p class="label second">{{ t('names.by') }}</p>
    <button
      v-for="c in checks"
      :key="c.slug"
      class="plain row"
      :class="{ at: c.slug === slug }"
      @click="emit('turn', { check: c.slug })"
    >
      <span class="shape" :class="c.severity" aria-hidden="true">{{
        c.severity === 'problem' ? '▲' : '△'
      }}</span><span>{{ c.title }}</span
      ><b class="mono">{{ c.count }}</b>
    </button>
    <p class="label second">{{ t('names.byLibrary') }}</p>
    <button
      v-for="l in perLibrary"
      :key="l.id"
      class="plain row"
      :class="{ at: l.id === library }"
      @click="emit('turn', { library: String(l.id) })"
    >
      <span></span><span>{{ l.name }}</span
      ><b class="mono">{{ l.count }}</b>
    </button>
  </aside>
</template>

<style scoped>
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 0 20px 6px;
}
.second {
  margin-top: 24px;
}
.row {
  display: grid;
  grid-template-columns: 16px 1fr auto;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 30px;
  padding: 3px 16px 3px 17px;
  border-inline-start: 3px solid transparent;
}
.row:hover {
  background: color-mix(in srgb, var(--accent-soft) 60%, transparent);
}
.row.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
  font-weight: 600;
}
.row b {
  font-weight: 400;
  font-size: 12px;
  color: var(--ink-soft);
}
.shape {
  font:
    13px/1.5 'DejaVu Sans',
    var(--sans);
  color: var(--ink-soft);
}
.shape.problem {
  color: var(--stamp);
}
@media (max-width: 860px) {
  aside {
    display: flex;
    overflow-x: auto;
    border: 0;
    border-bottom: 1px solid var(--rule);
    padding: 4px 8px;
  }
  aside .label {
    display: none;
  }
  aside .row {
    width: auto;
    flex: none;
    white-space: nowrap;
    border: 0;
    border-bottom: 3px solid transparent;
    padding: 6px 10px;
  }
  aside .row.at {
    border-bottom-color: var(--accent);
  }
}
</style>
