<script setup lang="ts">
/** Facts that the page does not say elsewhere, in a few quiet lines. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Entry } from '@/api/client'
import { clock, day } from '@/composables/words'

const props = defineProps<{ entry: Entry }>()
const { t, te, locale } = useI18n()
const SAID = [
  'lyrics',
  ...['title', 'plot', 'runtime', 'year', 'genres', 'directors', 'cast', 'writers', 'composers'],
  ...[
    'date',
    'original_date',
    'rating',
    'certificates',
    'episodes',
    'number',
    'season',
    'track',
    'disc',
    'artist',
  ],
]
const LEADS = [
  ...['artists', 'people', 'set', 'countries', 'languages', 'label', 'keywords', 'tagline'],
]
/** What it lies in says it: an album's artist stands on its tab; where it was taken leads to the map. */
const isAbove = (field: string) =>
  (field === 'artists' && props.entry.parents.length > 0) ||
  (['town', 'country'].includes(field) && props.entry.cell !== '')
const lines = computed(() =>
  props.entry.facts
    .filter((fact) => !SAID.includes(fact.field) && !isAbove(fact.field))
    .map((fact) => ({ field: fact.field, values: say(fact.field, fact.value) }))
    .filter((line) => line.values.length),
)
function say(field: string, value: unknown): string[] {
  if (value === null || value === undefined || value === '') return []
  if (field === 'date' && typeof value === 'string') return [day(value, String(locale.value))]
  if (field.endsWith('length') && typeof value === 'number') return [clock(value)]
  if (Array.isArray(value)) return value.map(String)
  return typeof value === 'object' ? [] : [String(value)]
}
const name = (field: string) =>
  te(`field.${field}`) ? t(`field.${field}`) : field.replaceAll('_', ' ')
</script>

<template>
  <dl v-if="lines.length" class="lines">
    <template v-for="line in lines" :key="line.field">
      <dt>{{ name(line.field) }}</dt>
      <dd>
        <template v-for="(one, place) in line.values" :key="one"
          ><template v-if="place">, </template
          ><RouterLink
            v-if="LEADS.includes(line.field)"
            :to="{ path: '/catalog/with', query: { field: line.field, value: one } }"
            >{{ one }}</RouterLink
          ><template v-else>{{ one }}</template></template
        >
      </dd>
    </template>
  </dl>
</template>

<style scoped>
.lines {
  display: grid;
  grid-template-columns: minmax(90px, auto) minmax(0, 1fr);
  gap: 4px 18px;
  margin: 18px 0 0;
  padding: 14px 0 0;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
