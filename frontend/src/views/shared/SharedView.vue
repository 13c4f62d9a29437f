<script setup lang="ts">
/** The page of a share: what somebody shows to whoever holds its link, and nothing else of the house. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { rowName } from '@/composables/gridWords'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask, at, playPage, type EntryCard } from '@/api/client'
import { day } from '@/composables/words'
import { speak } from '@/i18n'
import CoverImage from '@/parts/CoverImage.vue'
import LightTable from '@/parts/LightTable.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import HandIn from './HandIn.vue'

const { t, locale } = useI18n()
const route = useRoute()
const client = useQueryClient()
const key = computed(() => String(route.params.share))
const params = computed(() => ({ path: { share_key: key.value } }))
const { data, error } = useQuery({
  queryKey: ['shared', key],
  queryFn: () => ask(api.GET('/api/shared/{share_key}/', { params: params.value })),
  retry: false,
})
const entryId = computed(() => data.value?.entry_id ?? 0)
const { data: entry } = useQuery({
  queryKey: ['shared', key, entryId],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: entryId.value } } })),
  enabled: () => entryId.value > 0,
})
const password = ref('')
const opening = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/shared/{share_key}/open', {
        params: params.value,
        body: { password: password.value },
      }),
    ),
  onSuccess: () => client.invalidateQueries({ queryKey: ['shared'] }),
})
const card = computed(() => entry.value?.card)
const fact = (name: string) => entry.value?.facts.find((one) => one.field === name)?.value
const plot = computed(() => String(fact('plot') ?? ''))
const meta = computed(() => {
  const seconds = Number(fact('runtime') ?? 0)
  const when = card.value?.moment ? day(card.value.moment, locale.value) : card.value?.year
  return [
    when,
    seconds ? t('matches.minutes', { n: Math.round(seconds / 60) }) : '',
    data.value?.kind === 'list' ? t('lists.places', data.value.places?.length ?? 0) : '',
  ]
    .filter(Boolean)
    .join(' · ')
})
const PLAYED = ['movie', 'episode', 'clip', 'track']
/** What stands below: of a series its episodes, of a list its places. */
const rows = computed<{ id: number; title: string; note: string; number: number | null }[]>(() => {
  const grid = entry.value?.grid ?? []
  const cells = grid.flatMap((row) =>
    row.cells
      .filter((cell) => cell.entry_id && cell.state !== 'missing')
      .map((cell) => ({
        id: cell.entry_id ?? 0,
        title: cell.title,
        note: grid.length > 1 ? rowName(row, t, locale.value) : '',
        number: cell.number,
      })),
  )
  if (cells.length) return cells
  return below.value
    .filter((one) => PLAYED.includes(one.kind) && !pictures.value.includes(one))
    .map((one, place) => ({
      id: one.id,
      title: one.title,
      note: data.value?.kind === 'list' ? one.subtitle : '',
      number: place + 1,
    }))
})
const below = computed<EntryCard[]>(() =>
  data.value?.kind === 'list'
    ? (data.value.places ?? []).map((place) => place.entry)
    : (entry.value?.children ?? []),
)
const pictures = computed(() =>
  card.value?.kind === 'photo'
    ? [card.value]
    : below.value.filter(
        (one) => one.kind === 'photo' || (card.value?.kind === 'event' && one.picture),
      ),
)
const large = ref(-1)
const canPlay = computed(
  () => (card.value && (PLAYED.includes(card.value.kind) || rows.value.length > 0)) || false,
)
const own = computed(() => entry.value?.plays.find((one) => !one.extra))
const first = computed(() => (card.value ? card.value.id : rows.value[0]?.id))
const LANGUAGES = ['en', 'de']
const preferred = navigator.languages
  .map((one) => one.slice(0, 2))
  .find((one) => LANGUAGES.includes(one))
if (preferred) speak(preferred)
watch(data, (now) => now?.title && (document.title = `${now.title} · Indice`))
</script>

<template>
  <main class="shared">
    <header>
      <p class="tab">Indice</p>
      <p v-if="data" class="soft">{{ t('share.by', { name: data.by }) }}</p>
    </header>
    <section v-if="error" class="card shut">
      <h1>{{ t('share.closed') }}</h1>
      <p>{{ t('share.closedHow') }}</p>
    </section>
    <section v-else-if="data?.needs_password" class="card shut">
      <h1>{{ t('share.asks') }}</h1>
      <p>{{ t('share.asksHow', { name: data.by }) }}</p>
      <form @submit.prevent="opening.mutate()">
        <el-input
          v-model="password"
          name="share-password"
          type="password"
          autocomplete="off"
          :aria-label="t('welcome.password')"
          show-password
        />
        <el-button native-type="submit" type="primary" :disabled="!password">{{
          t('share.open')
        }}</el-button>
      </form>
      <ProblemNote v-if="opening.error.value" :error="opening.error.value" />
    </section>
    <article v-else-if="data" :class="{ bare: !card || card.kind === 'photo' }">
      <CoverImage
        v-if="card && card.kind !== 'photo'"
        :picture="card.picture"
        :title="card.title"
        :kind="card.kind"
        :size="480"
        class="front"
        :class="{
          square: ['album', 'artist', 'track'].includes(card.kind),
          wide: ['episode', 'clip', 'event'].includes(card.kind),
        }"
      />
      <div class="said">
        <h1>{{ data.title }}</h1>
        <p class="soft meta">{{ meta }}</p>
        <p v-if="plot" class="plot">{{ plot }}</p>
        <p class="acts">
          <RouterLink
            v-if="first && (canPlay || (data.kind === 'list' && rows.length))"
            class="go"
            data-test="play"
            :to="playPage(first)"
            >▶&nbsp; {{ rows.length ? t('page.playAll') : t('page.play') }}</RouterLink
          >
          <a
            v-if="data.may_download && own"
            :href="at(`files/${own.file_id}/content?download=true`)"
            download
            >{{ t('share.save') }}</a
          >
        </p>
        <ol v-if="rows.length" class="card rows">
          <li v-for="row in rows" :key="row.id">
            <span class="mono faint">{{ row.number }}</span>
            <RouterLink :to="playPage(row.id)">{{ row.title }}</RouterLink>
            <span class="soft">{{ row.note }}</span>
          </li>
        </ol>
        <HandIn v-if="data.takes_files" :share="key" :left="data.upload_bytes_left" />
      </div>
      <div v-if="pictures.length" class="wall" :class="{ one: pictures.length === 1 }">
        <button
          v-for="(one, place) in pictures"
          :key="one.id"
          class="plain"
          :aria-label="one.title"
          @click="large = place"
        >
          <CoverImage
            :picture="one.picture"
            :title="one.title"
            :kind="one.kind"
            :size="pictures.length === 1 ? 1280 : 240"
          />
        </button>
      </div>
    </article>
    <footer v-if="data && !data.needs_password" class="faint">
      {{ t('share.until', { day: day(data.ends_at, locale) }) }}
    </footer>
    <LightTable v-if="large >= 0" v-model:at="large" :entries="pictures" @close="large = -1" />
  </main>
</template>

<style scoped src="./shared.css"></style>
