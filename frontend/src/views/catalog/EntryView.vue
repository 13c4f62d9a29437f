<script setup lang="ts">
/** The page of an entry, with two faces: the household's, to look at, and the librarian's, to keep it. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import CoverImage from '@/parts/CoverImage.vue'
import LightTable from '@/parts/LightTable.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import BelowEntry from './BelowEntry.vue'
import KeepFace from './KeepFace.vue'
import LookFace from './LookFace.vue'
import LookMore from './LookMore.vue'

const { t } = useI18n()
const route = useRoute()
const id = computed(() => Number(route.params.id))
const {
  data: entry,
  error,
  refetch,
} = useQuery({
  queryKey: ['entry', id],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: id.value } } })),
  placeholderData: undefined,
})
const card = computed(() => entry.value?.card)
const large = ref(-1)
const shape = computed(() => {
  const kind = card.value?.kind ?? ''
  if (['album', 'track', 'artist'].includes(kind)) return 'square'
  return ['episode', 'clip', 'event', 'season'].includes(kind) ? 'wide' : ''
})
const wanted = useLocalStorage('indice.keep', false)
/** Who keeps the catalog, or tidies this library. */
const mayKeep = computed(() => !!entry.value?.is_kept)
const keeps = computed(() => wanted.value && mayKeep.value)
const toggle = () => (wanted.value = !wanted.value)
useKeys({ k: () => mayKeep.value && toggle() })
watch(card, (now) => now && (document.title = `${now.title} · Indice`))
</script>

<template>
  <div class="page">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="entry && card">
      <div
        v-if="entry.backdrop"
        class="backdrop"
        :style="{ backgroundImage: `url(/api/pictures/${entry.backdrop.digest}/1280)` }"
        aria-hidden="true"
      ></div>
      <aside>
        <button
          v-if="card.kind === 'photo' && card.picture"
          class="plain shown"
          :aria-label="t('page.large')"
          @click="large = 0"
        >
          <CoverImage
            :picture="card.picture"
            :title="card.title"
            :kind="card.kind"
            :size="480"
            class="front photo"
            :style="{ aspectRatio: `${card.picture.width} / ${card.picture.height}` }"
          />
        </button>
        <CoverImage
          v-else
          :picture="card.picture"
          :title="card.title"
          :kind="card.kind"
          :size="480"
          class="front"
          :class="shape"
        />
      </aside>
      <div class="faces">
        <div class="top">
          <p class="tab">
            <RouterLink
              v-for="parent in entry.parents"
              :key="parent.id"
              :to="`/catalog/entry/${parent.id}`"
              >{{ parent.title }}</RouterLink><span>{{ t(`entry.${card.kind}`) }}</span>
          </p>
          <div v-if="mayKeep" class="switch" role="group" :aria-label="t('page.face')">
            <button :aria-pressed="!keeps" data-test="look" @click="wanted = false">
              {{ t('page.look') }}
            </button>
            <button :aria-pressed="keeps" data-test="keep" @click="wanted = true">
              {{ t('page.keepIt') }} <kbd>k</kbd>
            </button>
          </div>
        </div>
        <LookFace v-if="!keeps" :entry="entry" />
        <KeepFace v-else :card="card" />
        <template v-if="!keeps">
          <BelowEntry :entry="entry" />
          <LookMore :entry="entry" />
        </template>
      </div>
      <LightTable v-if="large >= 0" v-model:at="large" :entries="[card]" @close="large = -1" />
    </template>
    <p v-else-if="!error" class="faint pad">{{ t('app.loading') }}</p>
  </div>
</template>

<style scoped>
.page {
  position: relative;
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 34px;
  max-width: 1320px;
  padding: 24px;
}
.backdrop {
  position: absolute;
  inset: 0 auto auto 0;
  width: 100vw;
  height: 260px;
  background: center 30% / cover;
  opacity: 0.3;
  mask-image: linear-gradient(#000, transparent);
  pointer-events: none;
}
aside,
.faces {
  position: relative;
  min-width: 0;
}
.front {
  width: 100%;
  aspect-ratio: 2 / 3;
  border: 6px solid var(--card);
  border-radius: 3px;
  box-shadow: var(--shadow);
}
.front.square {
  aspect-ratio: 1;
}
.front.wide {
  aspect-ratio: 16 / 9;
}
.shown {
  display: block;
  width: 100%;
}
.top {
  display: flex;
  gap: 16px;
  align-items: flex-end;
  justify-content: space-between;
  padding-inline-start: 22px;
}
.tab {
  display: flex;
  flex-wrap: wrap;
  min-width: 0;
  margin: 0 0 -1px;
  padding: 4px 14px 5px;
  z-index: 1;
  border: 1px solid var(--rule);
  border-bottom-color: var(--card);
  border-radius: 6px 6px 0 0;
  background: var(--card);
  color: var(--ink-soft);
  font-size: 13px;
}
.tab a {
  overflow-wrap: anywhere;
}
.tab a::after {
  content: ' /';
  margin-inline-end: 6px;
  color: var(--ink-faint);
  white-space: pre;
}
.switch {
  display: flex;
  flex: none;
  margin-bottom: 7px;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  background: var(--card);
  overflow: hidden;
}
.switch button {
  appearance: none;
  padding: 3px 11px;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
.switch button[aria-pressed='true'] {
  background: var(--accent);
  color: var(--card);
}
.switch kbd {
  font: 11px var(--mono);
  opacity: 0.75;
}
.pad {
  padding: 20px;
}
@media (max-width: 760px) {
  .page {
    grid-template-columns: minmax(0, 1fr);
    gap: 14px;
    padding: 14px 12px;
  }
  .front {
    width: 46%;
    margin: 0 auto;
    display: block;
  }
  .front.wide,
  .front.photo {
    width: 100%;
  }
  .top {
    padding-inline-start: 10px;
  }
}
</style>
