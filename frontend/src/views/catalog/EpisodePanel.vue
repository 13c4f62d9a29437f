<script setup lang="ts">
/** An episode beside the grid of its series: what it is about, play and marks; its neighbours by the arrow keys. */
import { useQuery } from '@tanstack/vue-query'
import { computed, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { useMarks } from '@/composables/useMarks'
import { day } from '@/composables/words'
import CoverImage from '@/parts/CoverImage.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ShareBar from '@/parts/ShareBar.vue'

const props = defineProps<{
  entryId: number
  /** Its place: `Season 2, 4`, or a day. */
  called: string
  title: string
  hasBefore: boolean
  hasAfter: boolean
}>()
const emit = defineEmits<{ step: [by: 1 | -1]; close: [] }>()
const { t, locale } = useI18n()
const marking = useMarks()
const { data, error, refetch } = useQuery({
  queryKey: ['entry', () => props.entryId],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: props.entryId } } })),
  placeholderData: (before) => before,
})
/** What was asked before stays in sight until the next one is there, but is not taken for it. */
const entry = computed(() => (data.value?.card.id === props.entryId ? data.value : undefined))
const fact = (field: string) => {
  const value: unknown = entry.value?.facts.find((one) => one.field === field)?.value
  return typeof value === 'string' || typeof value === 'number' ? String(value) : ''
}
const told = computed(() => {
  const minutes = Math.round(Number(fact('runtime')) / 60)
  return [
    fact('date') && day(fact('date'), locale.value),
    minutes > 0 ? t('matches.minutes', { n: minutes }) : '',
  ].filter(Boolean)
})
const isSeen = computed(() => !!entry.value?.card.mark?.seen)
const heading = useTemplateRef<HTMLElement>('heading')
/** On a phone it stands below the grid, and comes into sight. */
watch(heading, (now) => {
  now?.focus({ preventScroll: true })
  now?.closest('aside')?.scrollIntoView?.({ block: 'nearest' })
})
</script>

<template>
  <aside class="card panel" :aria-label="title" data-test="episode-panel">
    <header>
      <span class="mono faint">{{ called }}</span>
      <span class="ways">
        <button
          class="plain"
          :disabled="!hasBefore"
          :aria-label="t('player.previous')"
          @click="emit('step', -1)"
        >
          ‹
        </button>
        <button
          class="plain"
          :disabled="!hasAfter"
          :aria-label="t('player.next')"
          @click="emit('step', 1)"
        >
          ›
        </button>
        <button class="plain" :aria-label="t('app.close')" @click="emit('close')">×</button>
      </span>
    </header>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <span class="shown">
      <CoverImage
        :picture="entry?.card.picture ?? null"
        :title="title"
        kind="episode"
        :size="480"
        class="still"
      />
      <ShareBar v-if="entry?.card.mark?.share" :share="entry.card.mark.share" />
    </span>
    <h2 ref="heading" tabindex="-1">{{ title }}</h2>
    <p v-if="told.length" class="soft told">{{ told.join(' · ') }}</p>
    <p v-if="fact('plot')" class="plot">{{ fact('plot') }}</p>
    <p class="acts">
      <RouterLink class="pill play" :to="`/play/${entryId}`"
        >▶&nbsp; {{ t('page.play') }}</RouterLink
      >
      <button
        v-if="entry"
        class="pill"
        :aria-pressed="isSeen"
        data-test="panel-seen"
        @click="marking.mutate({ entry_ids: [entryId], seen: !isSeen })"
      >
        {{ t('marks.seen') }}
      </button>
      <RouterLink :to="`/catalog/entry/${entryId}`">{{ t('page.facts') }}</RouterLink>
    </p>
  </aside>
</template>

<style scoped>
.panel {
  align-self: start;
  padding: 10px 14px 14px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 6px;
}
.ways .plain {
  width: 28px;
  height: 28px;
  font: 20px/1 var(--serif);
}
.ways .plain:disabled {
  opacity: 0.3;
}
.shown {
  position: relative;
  display: block;
}
.still {
  width: 100%;
  aspect-ratio: 16 / 9;
}
h2 {
  margin: 10px 0 2px;
  font: 700 16px/1.3 var(--serif);
  outline: 0;
  overflow-wrap: anywhere;
}
.told {
  margin: 0 0 8px;
  font-size: 13px;
}
.plot {
  margin: 0 0 10px;
  max-height: 11em;
  overflow-y: auto;
  font-size: 13.5px;
  line-height: 1.45;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 0;
}
.play {
  background: var(--accent);
  border-color: var(--accent);
  color: var(--card);
}
.pill:hover {
  text-decoration: none;
}
</style>
