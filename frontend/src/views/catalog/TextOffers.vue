<script setup lang="ts">
/** What the services of subtitles have for a film, the likeliest to fit first, and why. */
import { useMutation } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type OfferedText, type TextDraft } from '@/api/client'
import { clock } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ entryId: number }>()
const emit = defineEmits<{ drafted: [draft: TextDraft] }>()
const { t, locale, n } = useI18n()
const wished = useLocalStorage(
  'indice.text-languages',
  locale.value === 'en' ? 'en' : `${locale.value}, en`,
)
const params = computed(() => ({ path: { entry_id: props.entryId } }))
const languages = computed(() =>
  wished.value
    .toLowerCase()
    .split(/[\s,;]+/)
    .filter((one) => /^[a-z]{2,3}(-[a-z0-9]{2,8})*$/.test(one))
    .slice(0, 8),
)
const names = computed(() => new Intl.DisplayNames([locale.value], { type: 'language' }))
const FOR = new Set([
  'same-file',
  'same-length',
  'near-length',
  'title',
  'year',
  'episode',
  'release',
])
const searching = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/entries/{entry_id}/subtitles/search', {
        params: params.value,
        body: { languages: languages.value, file_id: null },
      }),
    ),
})
const drafting = useMutation({
  mutationFn: (text: OfferedText) =>
    ask(
      api.POST('/api/entries/{entry_id}/subtitles/draft', {
        params: params.value,
        body: {
          service_id: text.service_id,
          id: text.id,
          language: text.language,
          form: text.form,
          for_deaf: text.for_deaf,
          forced: text.forced,
          stretch: text.stretch,
          file_id: null,
        },
      }),
    ),
  onSuccess: (made) => emit('drafted', made),
})
const about = (text: OfferedText) =>
  [
    names.value.of(text.language) ?? text.language,
    text.for_deaf ? t('texts.flag.sdh') : '',
    text.forced ? t('texts.flag.forced') : '',
    text.seconds ? clock(text.seconds) : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="card offers">
    <form class="ask" @submit.prevent="searching.mutate()">
      <label
        >{{ t('texts.languages')
        }}<input
          v-model="wished"
          class="field mono"
          size="14"
          spellcheck="false"
          data-test="text-languages" /></label
      ><el-button
        native-type="submit"
        type="primary"
        :loading="searching.isPending.value"
        :disabled="!languages.length"
        data-test="search-texts"
        >{{ t('texts.ask') }}</el-button
      >
    </form>
    <ProblemNote v-if="searching.error.value" :error="searching.error.value" />
    <ProblemNote v-if="drafting.error.value" :error="drafting.error.value" />
    <p v-for="problem in searching.data.value?.problems ?? []" :key="problem" class="wrong">
      {{ problem }}
    </p>
    <p v-if="searching.data.value && !searching.data.value.texts.length" class="soft pad">
      {{ t('texts.nothing') }}
    </p>
    <ol v-if="searching.data.value?.texts.length">
      <li v-for="text in searching.data.value.texts" :key="`${text.service_id} ${text.id}`">
        <div>
          <b>{{ about(text) }}</b>
          <span class="mono soft release">{{ text.release || text.title }}</span>
          <span class="grounds"
            ><span
              v-for="ground in text.grounds"
              :key="ground"
              :class="FOR.has(ground) ? 'speaks' : 'against'"
              >{{ FOR.has(ground) ? '+' : '−' }} {{ t(`texts.ground.${ground}`) }}</span
            ><span v-if="text.stretch !== 1" class="speaks">{{
              t('texts.stretched', { n: n(text.stretch, { maximumFractionDigits: 4 }) })
            }}</span></span
          >
        </div>
        <span class="soft">{{ text.service }}</span>
        <button
          class="link"
          :disabled="drafting.isPending.value"
          data-test="draft-text"
          @click="drafting.mutate(text)"
        >
          {{ t('texts.fetch') }}
        </button>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.offers {
  max-width: 860px;
  margin-bottom: 12px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
  padding: 12px 14px;
}
label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  color: var(--ink-soft);
  font-size: 13px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 18px;
  align-items: baseline;
  padding: 8px 14px;
  border-top: 1px solid var(--rule);
}
b {
  font-weight: 600;
  font-size: 14px;
}
.release {
  margin-inline-start: 10px;
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.grounds {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: 12.5px;
}
.speaks {
  color: var(--moss);
}
.against {
  color: var(--stamp);
}
.wrong {
  margin: 0;
  padding: 6px 14px;
  color: var(--stamp);
  font-size: 13px;
}
.pad {
  margin: 0;
  padding: 0 14px 12px;
}
@media (max-width: 760px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  li > div {
    grid-column: 1 / -1;
  }
}
</style>
