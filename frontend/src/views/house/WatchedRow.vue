<script setup lang="ts">
/** What somebody saw of late, who lets the owner see it. */
import { useQuery } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ personId: number; name: string }>()
const { t, locale } = useI18n()
const { data, error } = useQuery({
  queryKey: ['watched', () => props.personId],
  queryFn: () =>
    ask(
      api.GET('/api/people/{person_id}/seen', { params: { path: { person_id: props.personId } } }),
    ),
})
</script>

<template>
  <div class="watched">
    <p class="label">{{ t('people.saw', { name }) }}</p>
    <ProblemNote v-if="error" :error="error" />
    <p v-else-if="data && !data.seen.length" class="soft">{{ t('people.sawNothing') }}</p>
    <ul v-else>
      <li v-for="line in data?.seen ?? []" :key="line.card.id">
        <RouterLink :to="`/catalog/entry/${line.card.id}`">{{ line.card.title }}</RouterLink>
        <span class="soft">{{ line.card.subtitle }}</span>
        <span class="faint">{{
          line.seen_at ? moment(line.seen_at, locale) : t('marks.goingOn')
        }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.watched {
  max-height: 260px;
  overflow: auto;
  padding: 10px 16px 14px;
  border-top: 1px solid var(--rule);
  background: var(--paper);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 16px;
  padding: 3px 0;
}
</style>
