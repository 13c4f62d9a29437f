<script setup lang="ts">
/** The photos of a heap on the map, the newest first; one opens large, all of them on the wall. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask, at as address, type EntryCard, type Heap } from '@/api/client'
import { narrowedTo, type Pile } from '@/composables/earth'
import { day } from '@/composables/words'
import LightTable from '@/parts/LightTable.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{
  pile: Pile<Heap>
  called: string
  traits: string
  words: string
  year: string
}>()
const emit = defineEmits<{ closer: []; close: [] }>()
const { t, n, locale } = useI18n()
const router = useRouter()
/** Narrowed down as the map is, and to this place, in place of another one. */
const traits = computed(() => narrowedTo(props.traits, props.pile.cells))
const asked = computed(() => ({ traits: traits.value, words: props.words, year: props.year }))
const { data, error, refetch } = useQuery({
  queryKey: ['shelf', 'photos', 'heap', asked],
  queryFn: () =>
    ask(
      api.GET('/api/shelves/{shelf}', {
        params: { path: { shelf: 'photos' }, query: asked.value },
      }),
    ),
})
const shots = computed(() => data.value?.entries ?? [])
const photos = computed(() => shots.value.filter((one) => one.kind === 'photo' && one.picture))
const opened = ref(-1)
function open(shot: EntryCard): void {
  opened.value = photos.value.findIndex((one) => one.id === shot.id)
  if (opened.value < 0) void router.push(`/catalog/entry/${shot.id}`)
}
const span = computed(() => {
  const days = shots.value.map((one) => one.moment ?? '').filter(Boolean)
  const [last, first] = [days[0] ?? '', days.at(-1) ?? '']
  if (!first || data.value?.following) return ''
  const [from, to] = [day(first, locale.value), day(last, locale.value)]
  return from === to ? from : `${from} – ${to}`
})
const wall = computed(() => ({
  path: '/catalog/photos',
  query: {
    with: traits.value,
    ...(props.words && { filter: props.words }),
    ...(props.year && { year: props.year }),
  },
}))
</script>

<template>
  <aside class="card heap" :aria-label="called || t('map.chosen')" data-test="heap-panel">
    <header>
      <h2>{{ called || t('map.chosen') }}</h2>
      <button class="link" :aria-label="t('app.close')" @click="emit('close')">×</button>
      <p class="soft">
        {{ [t('map.photos', { n: n(pile.count) }, pile.count), span].filter(Boolean).join(' · ') }}
      </p>
      <p class="ways">
        <button class="pill" @click="emit('closer')">{{ t('map.closer') }}</button>
        <RouterLink class="pill" :to="wall" data-test="wall">{{ t('map.wall') }}</RouterLink>
      </p>
    </header>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div class="shots">
      <button
        v-for="shot in shots"
        :key="shot.id"
        class="plain shot"
        :title="shot.title"
        :aria-label="shot.title"
        :style="{
          backgroundImage: shot.picture
            ? `url(${address(`pictures/${shot.picture.digest}/240`)}), url(${shot.picture.blur})`
            : undefined,
        }"
        @click="open(shot)"
      >
        <span v-if="shot.kind === 'clip'" aria-hidden="true">▶</span>
      </button>
    </div>
    <LightTable v-if="opened >= 0" v-model:at="opened" :entries="photos" @close="opened = -1" />
  </aside>
</template>

<style scoped>
.heap {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 14px 16px 0;
}
header {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: baseline;
  padding-bottom: 10px;
}
header p {
  grid-column: 1 / -1;
  margin: 2px 0 0;
}
h2 {
  font-size: 17px;
  overflow-wrap: anywhere;
}
.ways {
  display: flex;
  gap: 8px;
  padding-top: 8px;
}
.ways a:hover {
  text-decoration: none;
}
.shots {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(84px, 1fr));
  grid-auto-rows: 66px;
  gap: 5px;
  min-height: 0;
  margin: 0 -6px;
  padding: 4px 6px 14px;
  overflow-y: auto;
}
.shot {
  background: var(--desk) center / cover;
  border-radius: 2px;
}
.shot:hover {
  outline: 3px solid var(--accent);
}
.shot span {
  color: #fffdf7;
  text-shadow: 0 0 4px #14120f;
}
</style>
