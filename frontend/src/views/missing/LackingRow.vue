<script setup lang="ts">
/** A series, an album, a set of films or a film, and what of it is not here. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Lacking } from '@/api/client'
import { day } from '@/composables/words'

const props = defineProps<{ row: Lacking }>()
const { t, locale } = useI18n()
type Lack = Lacking['lacks'][number]
interface Group {
  name: string
  named: Lack[]
  bare: number[]
}
/** Those with a title stand one a line; of the others the numbers are enough. */
function grouped(lacks: Lack[]): Group[] {
  const groups = new Map<number, Lack[]>()
  for (const one of lacks) groups.set(one.group, [...(groups.get(one.group) ?? []), one])
  return [...groups].map(([number, ones]) => ({
    name: named(number, groups.size),
    named: ones.filter((one) => one.title),
    bare: ones.filter((one) => !one.title).map((one) => one.number),
  }))
}
function named(number: number, many: number): string {
  if (props.row.kind === 'series') return t('missing.season', { n: number })
  if (props.row.kind === 'movie') return t('missing.part')
  if (props.row.kind === 'set') return t('missing.films')
  return number > 1 || many > 1 ? t('missing.disc', { n: number }) : t('missing.track')
}
const gone = computed(() => grouped(props.row.lacks.filter((one) => one.is_out)))
const later = computed(() => props.row.lacks.filter((one) => !one.is_out))
const page = computed(() => {
  const { kind, entry_id: id, title: value } = props.row
  if (kind === 'set') return { path: '/catalog/with', query: { field: 'set', value } }
  return id ? `/catalog/entry/${id}` : undefined
})
const soon = computed(() =>
  t(props.row.kind === 'set' ? 'missing.laterFilms' : 'missing.later', {
    what: later.value
      .map((one) =>
        props.row.kind === 'set' ? one.title : `${one.group}×${one.number} ${one.title}`.trim(),
      )
      .slice(0, 8)
      .join(', '),
    when: later.value[0]?.date ? day(later.value[0].date, locale.value) : '',
  }),
)
</script>

<template>
  <li class="lacking">
    <div class="of">
      <RouterLink v-if="page" :to="page">{{ row.title }}</RouterLink>
      <b v-else>{{ row.title }}</b>
      <span class="soft">{{ [row.by, row.year, row.library].filter(Boolean).join(', ') }}</span>
    </div>
    <div class="what">
      <div v-for="group in gone" :key="group.name" class="group">
        <span class="soft">{{ group.name }}</span>
        <ol>
          <li v-for="one in group.named" :key="one.number">
            <span class="mono number">{{ one.number }}</span>
            <span class="name">{{ one.title }}</span>
            <span v-if="one.date" class="faint">{{ day(one.date, locale) }}</span>
          </li>
          <li v-if="group.bare.length" class="mono">{{ group.bare.join(', ') }}</li>
        </ol>
      </div>
      <p v-if="later.length" class="faint later">{{ soon }}</p>
    </div>
  </li>
</template>

<style scoped>
li {
  list-style: none;
}
.lacking {
  display: grid;
  grid-template-columns: minmax(180px, 300px) minmax(0, 1fr);
  gap: 4px 24px;
  padding: 10px 14px;
  border-bottom: 1px solid var(--rule);
  break-inside: avoid;
}
.lacking:last-child {
  border: 0;
}
.of {
  display: flex;
  flex-direction: column;
  overflow-wrap: anywhere;
}
.group {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr);
  gap: 4px 12px;
}
ol {
  margin: 0;
  padding: 0;
}
ol li {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr) auto;
  gap: 10px;
}
ol li.mono {
  display: block;
  overflow-wrap: anywhere;
}
.number {
  text-align: end;
}
.name {
  overflow-wrap: anywhere;
}
.later {
  margin: 4px 0 0;
  font-size: 13px;
}
.later:first-child {
  margin: 0;
}
@media (max-width: 760px) {
  .lacking {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
