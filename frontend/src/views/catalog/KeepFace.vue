<script setup lang="ts">
/** The librarian's face: facts with their origins, pictures to choose from, files, the decision. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask, type EntryCard } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { bytes } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateSign from '@/parts/StateSign.vue'
import EntryFiles from './EntryFiles.vue'
import EntryTexts from './EntryTexts.vue'
import FactList from './FactList.vue'
import PictureShelf from './PictureShelf.vue'
import SeenBy from './SeenBy.vue'

const { data: status } = useStatus()
const props = defineProps<{ card: EntryCard }>()
const { t, locale } = useI18n()
const router = useRouter()
const client = useQueryClient()
const params = computed(() => ({ path: { entry_id: props.card.id } }))
const {
  data: kept,
  error,
  refetch,
} = useQuery({
  queryKey: ['entry', () => props.card.id, 'kept'],
  queryFn: () => ask(api.GET('/api/entries/{entry_id}/kept', { params: params.value })),
})
const size = computed(() =>
  (kept.value?.files ?? []).reduce((sum, file) => sum + file.size_bytes, 0),
)
const isMatched = computed(() => ['movie', 'series', 'album'].includes(props.card.kind))
const hasPictures = computed(
  () =>
    !!kept.value?.artworks.length ||
    !!kept.value?.offers.length ||
    isMatched.value ||
    props.card.kind === 'artist',
)
/** What has talk in it. */
const hasTexts = computed(
  () => ['movie', 'episode'].includes(props.card.kind) && !!kept.value?.files.length,
)
const warn = (reason: Error) => ElMessage({ message: reason.message, type: 'warning' })
async function tell(words: string): Promise<void> {
  ElMessage({ message: words, type: 'info' })
  await client.invalidateQueries()
}
const undoing = useMutation({
  mutationFn: () => ask(api.DELETE('/api/entries/{entry_id}/decision', { params: params.value })),
  onSuccess: () => tell(t('matches.undone')),
  onError: warn,
})
const fetching = useMutation({
  mutationFn: () => ask(api.POST('/api/entries/{entry_id}/refresh', { params: params.value })),
  onSuccess: () => tell(t('page.fetched')),
  onError: warn,
})
const searching = useMutation({
  mutationFn: async () => {
    if (!kept.value?.candidates)
      await ask(
        api.POST('/api/entries/{entry_id}/candidates', {
          params: params.value,
          body: { words: props.card.title, source: null },
        }),
      )
    await client.invalidateQueries({ queryKey: ['matches'] })
    await router.push(`/matches?entry=${props.card.id}`)
  },
  onError: warn,
})
</script>

<template>
  <section class="card head">
    <h1>{{ card.title }}</h1>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <p v-else-if="!kept" class="faint">{{ t('app.loading') }}</p>
    <dl v-if="kept">
      <template v-if="kept.source"
        ><dt>{{ t('page.known') }}</dt>
        <dd>
          {{ kept.source }} <StateSign state="settled" />
          <span class="faint">{{
            kept.decided_by ? t(`page.by.${kept.decided_by}`) : t('page.settled')
          }}</span>
        </dd></template
      >
      <template v-else-if="isMatched"
        ><dt>{{ t('page.known') }}</dt>
        <dd><StateSign :state="card.state" /> {{ t(`state.${card.state}`) }}</dd></template
      >
      <template v-if="kept.files.length"
        ><dt>{{ t('page.disk') }}</dt>
        <dd>
          {{ t('folders.files', kept.files.length) }}, {{ bytes(size, locale) }},
          {{ kept.library }}
        </dd></template
      >
    </dl>
    <p v-if="kept" class="acts">
      <button
        v-if="isMatched && status?.manages"
        class="link"
        :disabled="searching.isPending.value"
        @click="searching.mutate()"
      >
        {{ card.state === 'waiting' ? t('page.decide') : t('page.something') }}
      </button>
      <button
        v-if="kept.source && isMatched"
        class="link"
        :disabled="fetching.isPending.value"
        @click="fetching.mutate()"
      >
        {{ t('page.fetch') }}
      </button>
      <button
        v-if="kept.decided_by && card.kind !== 'artist' && status?.manages"
        class="link"
        @click="undoing.mutate()"
      >
        {{ t('page.undo') }}
      </button>
    </p>
  </section>
  <SeenBy v-if="status?.role === 'owner'" :entry-id="card.id" />
  <template v-if="kept">
    <FactList
      v-if="kept.facts.length"
      :entry-id="card.id"
      :facts="kept.facts"
      :editable="kept.editable"
      :changes="kept.changes"
    />
    <PictureShelf
      v-if="hasPictures"
      :entry-id="card.id"
      :kind="card.kind"
      :artworks="kept.artworks"
      :offers="kept.offers"
      :frames="kept.frames"
    />
    <EntryTexts v-if="hasTexts" :entry-id="card.id" />
    <EntryFiles v-if="kept.files.length" :files="kept.files" />
    <p v-else-if="card.kind === 'episode'" class="soft">{{ t('page.noFile') }}</p>
  </template>
</template>

<style scoped>
.head {
  margin-bottom: 18px;
  padding: 14px 20px 16px;
}
h1 {
  margin: 0 0 6px;
  font-size: 24px;
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 16px;
  margin: 0;
  font-size: 13px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 10px 0 0;
  font-size: 13px;
}
.acts:empty {
  display: none;
}
</style>
