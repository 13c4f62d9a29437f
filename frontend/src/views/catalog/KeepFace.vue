<script setup lang="ts">
/** The librarian's face: facts with their origins, pictures to choose from, files, the decision. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask, type Entry } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { bytes } from '@/composables/words'
import StateSign from '@/parts/StateSign.vue'
import EntryFiles from './EntryFiles.vue'
import EntryTexts from './EntryTexts.vue'
import FactList from './FactList.vue'
import PictureShelf from './PictureShelf.vue'
import SeenBy from './SeenBy.vue'

const { data: status } = useStatus()
const props = defineProps<{ entry: Entry }>()
const { t, locale } = useI18n()
const router = useRouter()
const client = useQueryClient()
const card = computed(() => props.entry.card)
const params = computed(() => ({ path: { entry_id: card.value.id } }))
const size = computed(() => props.entry.files.reduce((sum, file) => sum + file.size_bytes, 0))
const isMatched = computed(() => ['movie', 'series', 'album'].includes(card.value.kind))
const hasPictures = computed(
  () =>
    props.entry.artworks.length > 0 ||
    props.entry.offers.length > 0 ||
    isMatched.value ||
    card.value.kind === 'artist',
)
/** What has talk in it. */
const hasTexts = computed(
  () => ['movie', 'episode'].includes(card.value.kind) && props.entry.files.length > 0,
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
    if (!props.entry.candidates)
      await ask(
        api.POST('/api/entries/{entry_id}/candidates', {
          params: params.value,
          body: { words: card.value.title, source: null },
        }),
      )
    await client.invalidateQueries({ queryKey: ['matches'] })
    await router.push(`/matches?entry=${card.value.id}`)
  },
  onError: warn,
})
</script>

<template>
  <section class="card head">
    <h1>{{ card.title }}</h1>
    <dl>
      <template v-if="entry.source"
        ><dt>{{ t('page.known') }}</dt>
        <dd>
          {{ entry.source }} <StateSign state="settled" />
          <span class="faint">{{
            entry.decided_by ? t(`page.by.${entry.decided_by}`) : t('page.settled')
          }}</span>
        </dd></template
      >
      <template v-else-if="isMatched"
        ><dt>{{ t('page.known') }}</dt>
        <dd><StateSign :state="card.state" /> {{ t(`state.${card.state}`) }}</dd></template
      >
      <template v-if="entry.files.length"
        ><dt>{{ t('page.disk') }}</dt>
        <dd>
          {{ t('folders.files', entry.files.length) }}, {{ bytes(size, locale) }},
          {{ entry.library }}
        </dd></template
      >
    </dl>
    <p class="acts">
      <button
        v-if="isMatched && status?.manages"
        class="link"
        :disabled="searching.isPending.value"
        @click="searching.mutate()"
      >
        {{ card.state === 'waiting' ? t('page.decide') : t('page.something') }}
      </button>
      <button
        v-if="entry.source && isMatched"
        class="link"
        :disabled="fetching.isPending.value"
        @click="fetching.mutate()"
      >
        {{ t('page.fetch') }}
      </button>
      <button
        v-if="entry.decided_by && card.kind !== 'artist' && status?.manages"
        class="link"
        @click="undoing.mutate()"
      >
        {{ t('page.undo') }}
      </button>
    </p>
  </section>
  <SeenBy v-if="status?.role === 'owner'" :entry-id="card.id" />
  <FactList
    v-if="entry.facts.length"
    :entry-id="card.id"
    :facts="entry.facts"
    :editable="entry.editable"
    :changes="entry.changes"
  />
  <PictureShelf
    v-if="hasPictures"
    :entry-id="card.id"
    :kind="card.kind"
    :artworks="entry.artworks"
    :offers="entry.offers"
    :frames="entry.frames"
  />
  <EntryTexts v-if="hasTexts" :entry-id="card.id" />
  <EntryFiles v-if="entry.files.length" :files="entry.files" />
  <p v-else-if="card.kind === 'episode'" class="soft">{{ t('page.noFile') }}</p>
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
