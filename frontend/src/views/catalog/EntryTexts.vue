<script setup lang="ts">
/** The texts that lie beside a film: their times mended, and others looked for at the services. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { usePlans } from '@/composables/usePlans'
import ProblemNote from '@/parts/ProblemNote.vue'
import TextDraftCard from './TextDraftCard.vue'
import TextOffers from './TextOffers.vue'
import TextTimes from './TextTimes.vue'
import type { TextDraft } from '@/api/client'

const props = defineProps<{ entryId: number }>()
const { t, locale } = useI18n()
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['entry', () => props.entryId, 'texts'],
  queryFn: () =>
    ask(
      api.GET('/api/entries/{entry_id}/subtitles', {
        params: { path: { entry_id: props.entryId } },
      }),
    ),
})
const sheet = usePlans()
const drafted = ref<TextDraft>()
const looking = ref(false)
const timed = ref<number>()
const names = computed(() => new Intl.DisplayNames([locale.value], { type: 'language' }))
const tongue = (code: string | null) => (code ? (names.value.of(code) ?? code) : t('texts.unknown'))
function take(made: TextDraft): void {
  drafted.value = made
  sheet.take(made.plan)
}
function close(): void {
  drafted.value = undefined
  sheet.close()
}
watch(sheet.busy, (now, was) => {
  if (was && !now) void client.invalidateQueries({ queryKey: ['entry'] })
})
</script>

<template>
  <section class="texts">
    <h2>
      {{ t('texts.title') }}
      <button
        class="link"
        :aria-expanded="looking"
        data-test="look-texts"
        @click="looking = !looking"
      >
        {{ t('texts.look') }}
      </button>
    </h2>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <ProblemNote v-if="sheet.error.value" :error="sheet.error.value" />
    <TextDraftCard
      v-if="drafted"
      :draft="drafted"
      :plan="sheet.plans.value[0] ?? drafted.plan"
      :busy="sheet.busy.value"
      @apply="sheet.apply"
      @undo="sheet.undo"
      @close="close"
    />
    <TextOffers v-if="looking" :entry-id="entryId" @drafted="take" />
    <ul v-if="data?.texts.length" class="card">
      <li v-for="text in data.texts" :key="text.file_id">
        <span class="mono name">{{ text.name }}</span>
        <span class="soft">{{
          [tongue(text.language), ...text.flags.map((flag) => t(`texts.flag.${flag}`))].join(', ')
        }}</span>
        <button
          class="link"
          :aria-expanded="timed === text.file_id"
          @click="timed = timed === text.file_id ? undefined : text.file_id"
        >
          {{ t('texts.times') }}
        </button>
        <TextTimes
          v-if="timed === text.file_id"
          :entry-id="entryId"
          :text-id="text.file_id"
          @drafted="take"
        />
      </li>
    </ul>
    <p v-else-if="data" class="soft none">{{ t('texts.none') }}</p>
  </section>
</template>

<style scoped>
.texts {
  margin-bottom: 22px;
}
h2 {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  margin-bottom: 8px;
}
h2 .link {
  font-family: var(--sans);
  font-size: 13px;
}
ul {
  list-style: none;
  max-width: 860px;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 18px;
  align-items: baseline;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
.name {
  overflow-wrap: anywhere;
}
.none {
  margin: 0;
}
@media (max-width: 760px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .name {
    grid-column: 1 / -1;
  }
}
</style>
