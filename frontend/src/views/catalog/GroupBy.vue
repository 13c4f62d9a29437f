<script setup lang="ts">
/** Chooses by what a shelf is laid out in groups, or that it is not. What is narrowed down stays so. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'

const GROUPED = {
  films: ['genre', 'decade', 'director', 'set'],
  series: ['genre', 'decade'],
  music: ['genre', 'decade', 'composer', 'label'],
  photos: ['town', 'country', 'person', 'keyword', 'camera', 'lens'],
} as const
const KEPT = ['with', 'filter', 'year'] as const
const props = defineProps<{ shelf: string; at?: string }>()
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const groups = computed(() => GROUPED[props.shelf as keyof typeof GROUPED] ?? ([] as const))
function go(event: Event): void {
  const by = (event.target as HTMLSelectElement).value
  const path = `/catalog/${props.shelf}${by ? `/by/${by}` : ''}`
  const query = Object.fromEntries(
    KEPT.map((one) => [one, route.query[one]]).filter((one) => !!one[1]),
  ) as Record<string, string>
  void router.push({ path, query })
}
</script>

<template>
  <label class="group-by"
    >{{ t('groups.by') }}
    <select :value="at ?? ''" data-test="group-by" @change="go">
      <option value="">{{ t('groups.none') }}</option>
      <option v-for="one in groups" :key="one" :value="one">{{ t(`groups.${one}`) }}</option>
    </select></label
  >
</template>

<style scoped>
.group-by {
  display: inline-flex;
  gap: 7px;
  align-items: center;
  color: var(--ink-soft);
  font-size: 13px;
}
select {
  height: 28px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
</style>
