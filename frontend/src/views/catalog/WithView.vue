<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import CoverImage from '@/parts/CoverImage.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import EntryTile from '@/parts/EntryTile.vue'
import LackingTiles from '@/parts/LackingTiles.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, te } = useI18n()
const route = useRoute()
const field = computed(() => String(route.query.field ?? ''))
const value = computed(() => String(route.query.value ?? ''))
const { data, error, refetch } = useQuery({
  queryKey: ['with', field, value],
  queryFn: () =>
    ask(api.GET('/api/with', { params: { query: { field: field.value, value: value.value } } })),
})
/** Where a wall would be too long: the shelves that can be narrowed down to the same, group and shelves of each field. */
const NARROWED: Record<string, [string, string[]]> = {
  genres: ['genre', ['films', 'series', 'music']],
  directors: ['director', ['films']],
  cast: ['cast', ['films', 'series']],
  label: ['label', ['music']],
  keywords: ['keyword', ['photos']],
}
const shelves = computed(() =>
  (data.value?.more ? (data.value.roles ?? []) : []).flatMap((one) => {
    const [group, on] = NARROWED[one.field] ?? ['', []]
    const traits = `${group}:${value.value.replaceAll('|', '/')}`
    return on.map((shelf) => ({
      shelf,
      to: { path: `/catalog/${shelf}`, query: { with: traits } },
    }))
  }),
)
const role = (name: string) => (te(`with.${name}`) ? t(`with.${name}`) : t(`field.${name}`))
watch(value, (now) => (document.title = `${now} · Indice`), { immediate: true })
</script>

<template>
  <div class="with">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <header>
      <CoverImage
        v-if="data?.portrait"
        :picture="data.portrait"
        :title="value"
        kind="artist"
        :size="240"
        class="portrait"
      />
      <div>
        <p class="soft">{{ role(field) }}</p>
        <h1>{{ value }}</h1>
      </div>
    </header>
    <section v-for="group in data?.roles ?? []" :key="group.field">
      <h2 v-if="(data?.roles.length ?? 0) > 1">
        {{ role(group.field) }} <span class="mono faint">{{ group.entries.length }}</span>
      </h2>
      <div class="wall">
        <EntryTile
          v-for="entry in group.entries"
          :key="entry.id"
          :entry="entry"
          :square="['album', 'artist', 'track'].includes(entry.kind)"
        />
        <LackingTiles v-if="group.field === 'set'" :lacks="data?.lacks ?? []" />
      </div>
    </section>
    <p v-if="data?.more" class="soft more">
      {{ t('today.more', { n: data.more }) }}
      <template v-if="shelves.length"
        >· {{ t('with.all') }}
        <RouterLink v-for="one in shelves" :key="one.shelf + one.to.query.with" :to="one.to">{{
          t(`catalog.${one.shelf}`)
        }}</RouterLink></template
      >
    </p>
    <EmptyPlace v-if="data && !data.roles.length" :title="t('with.nothing')" />
  </div>
</template>

<style scoped>
.with {
  padding: 18px 24px 40px;
}
header {
  display: flex;
  gap: 18px;
  align-items: center;
  margin-bottom: 16px;
}
header p {
  margin: 0;
}
.more a {
  margin-inline-start: 8px;
}
.portrait {
  width: 92px;
  height: 92px;
  flex: none;
}
h2 {
  margin: 18px 0 8px;
}
.wall {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(calc(142px * var(--cards, 1)), 1fr));
  gap: 16px 14px;
  align-items: start;
}
@media (max-width: 760px) {
  .with {
    padding: 12px;
  }
  .wall {
    grid-template-columns: repeat(auto-fill, minmax(104px, 1fr));
    gap: 10px 8px;
  }
}
</style>
