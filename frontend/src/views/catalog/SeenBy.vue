<script setup lang="ts">
/** Who of the household sees an entry, and why somebody does not. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'

const props = defineProps<{ entryId: number }>()
const { t } = useI18n()
const { data } = useQuery({
  queryKey: ['people', 'seers', () => props.entryId],
  queryFn: () =>
    ask(
      api.GET('/api/entries/{entry_id}/seen-by', {
        params: { path: { entry_id: props.entryId } },
      }),
    ),
})
/** Who keeps the catalog sees everything: that need not be said. */
const bound = computed(() =>
  (data.value?.seers ?? []).filter((one) => !['owner', 'librarian'].includes(one.role)),
)
</script>

<template>
  <section v-if="bound.length" class="seers" data-test="seers">
    <h2>{{ t('seers.title') }}</h2>
    <p class="card">
      <span v-for="one in bound" :key="one.person_id" :class="{ not: one.hidden_by }">
        <span aria-hidden="true">{{ one.hidden_by ? '✕' : '✓' }}</span> <b>{{ one.name }}</b>
        <span class="soft">{{
          one.hidden_by ? t(`seers.${one.hidden_by}`, { n: data?.age ?? 0 }) : t('seers.sees')
        }}</span>
      </span>
    </p>
  </section>
</template>

<style scoped>
.seers {
  margin-top: 20px;
}
.card {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  margin: 0;
  padding: 10px 16px;
}
.not b {
  color: var(--ink-soft);
}
</style>
