<script setup lang="ts">
/** The log of what concerns who may do what; it is asked for when somebody opens it. */
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { deviceName, moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, locale } = useI18n()
const open = ref(false)
const { data, error, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['people', 'deeds'],
  queryFn: ({ pageParam }) =>
    ask(api.GET('/api/deeds', { params: { query: { before: pageParam } } })),
  initialPageParam: undefined as number | undefined,
  getNextPageParam: (last) => last.following ?? undefined,
  enabled: open,
})
const lines = computed(() => data.value?.pages.flatMap((page) => page.deeds) ?? [])
type Line = (typeof lines.value)[number]
const LOUD = ['sign-in-wrong', 'new-device', 'refused']
function about(line: Line): string {
  const { title, name, role, device, operation } = line.values
  const words = [title, name, role ? t(`people.role.${String(role)}`) : '', operation]
  return [...words, device ? deviceName(String(device)) || device : ''].filter(Boolean).join(', ')
}
</script>

<template>
  <section data-test="deeds">
    <div class="head">
      <h2>{{ t('deed.title') }}</h2>
      <button class="link" :aria-expanded="open" @click="open = !open">
        {{ open ? t('deed.hide') : t('deed.show') }}
      </button>
    </div>
    <ProblemNote v-if="error" :error="error" />
    <div v-if="open" class="card">
      <p
        v-for="line in lines"
        :key="line.id"
        class="row"
        :class="{ loud: LOUD.includes(line.kind) }"
      >
        <span class="mono faint">{{ moment(line.at, locale) }}</span>
        <span
          ><b v-if="line.person">{{ line.person }}</b> {{ t(`deed.kind.${line.kind}`) }}
          <span class="soft">{{ about(line) }}</span></span
        >
        <span class="mono faint">{{ line.address }}</span>
      </p>
      <p v-if="data && !lines.length" class="row soft">{{ t('deed.none') }}</p>
      <p v-if="hasNextPage" class="row">
        <button class="link" @click="fetchNextPage()">{{ t('deed.older') }}</button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 128px minmax(0, 1fr) auto;
  gap: 4px 16px;
  align-items: baseline;
  margin: 0;
  padding: 5px 14px;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.row:last-child {
  border: 0;
}
.loud {
  background: var(--ochre-soft);
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .row > :nth-child(2) {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
