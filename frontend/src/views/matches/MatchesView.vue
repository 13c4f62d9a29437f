<script setup lang="ts">
/** What the catalog is not sure of, one after the other, by keys. */
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useDeciding } from '@/composables/useDeciding'
import { useKeys } from '@/composables/useKeys'
import { useWaiting } from '@/composables/useWaiting'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import CompareTable from './CompareTable.vue'
import MatchList from './MatchList.vue'
import SearchAgain from './SearchAgain.vue'

const { t } = useI18n()
const place = useWaiting()
const { data, error, refetch, again, taken, waiting, total, loadMore } = place
const { chosenId, at, current, match, group } = place
const { problem, decide, takeAll, confirm, undo, isBusy } = useDeciding(place)
const searching = ref(false)
/** The source whose candidate was taken, so that the table can mark it. */
const settledAs = computed(() =>
  again.value || match.value?.entry.state === 'settled' ? match.value?.taken : null,
)
function step(by: number): void {
  place.step(by)
  searching.value = false
}
function found(): void {
  problem.value = undefined
  searching.value = false
}
useKeys({
  ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [String(n), () => decide(n - 1)])),
  n: () => decide(null),
  y: confirm,
  g: () => takeAll(group.value),
  u: () => void undo(),
  '/': () => void (searching.value = true),
  j: () => step(1),
  k: () => step(-1),
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
})
</script>

<template>
  <div class="matches">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="data">
      <MatchList
        v-if="waiting.length || data.decided.length || taken?.entries.length"
        :waiting="waiting"
        :total="total"
        :counts="[data.total, taken?.entries.length ?? 0]"
        :current="current"
        :decided="data.decided"
        :again="again"
        @choose="chosenId = $event"
        @take-all="takeAll"
        @undo="undo"
        @more="loadMore"
      />
      <section class="main">
        <EmptyPlace
          v-if="!current"
          :title="t(again ? 'matches.againClear' : 'matches.clear')"
          :how="t(again ? 'matches.againHow' : 'matches.clearHow')"
        />
        <template v-else-if="match">
          <div class="head">
            <h1>{{ match.entry.title }}</h1>
            <span class="soft">{{ match.note }}</span><span class="mono faint count">{{
              t('matches.of', { at: at + 1, total })
            }}</span>
          </div>
          <ProblemNote v-if="problem" :error="problem" />
          <CompareTable :match="match" :taken="settledAs ?? null" :busy="isBusy" @take="decide" />
          <p v-if="!match.candidates.length" class="soft">{{ t('matches.nobody') }}</p>
          <SearchAgain
            v-if="searching"
            :key="match.entry.id"
            :entry="match.entry"
            @done="found"
            @failed="problem = $event"
          />
          <p class="foot">
            <span
              ><kbd>1</kbd> – <kbd>{{ Math.max(match.candidates.length, 1) }}</kbd>
              {{ t('keys.take') }}</span
            >
            <button v-if="again" class="link" @click="confirm">
              <kbd>y</kbd> {{ t('matches.right') }}
            </button>
            <button v-if="group.length > 1" class="link" @click="takeAll(group)">
              <kbd>g</kbd> {{ t('matches.takeGroup', group.length) }}
            </button>
            <button class="link" @click="decide(null)"><kbd>n</kbd> {{ t('matches.none') }}</button>
            <button class="link" @click="searching = true">
              <kbd>/</kbd> {{ t('matches.search') }}
            </button>
            <button class="link" @click="undo()"><kbd>u</kbd> {{ t('matches.undo') }}</button>
          </p>
        </template>
      </section>
    </template>
  </div>
</template>

<style scoped>
.matches {
  display: grid;
  grid-template-columns: 252px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
.matches > .main:only-child {
  grid-column: 1 / -1;
}
.main {
  padding: 16px 22px 0;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
  margin-bottom: 12px;
}
.count {
  margin-inline-start: auto;
}
.foot {
  position: sticky;
  bottom: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
  align-items: center;
  margin: auto -22px 0;
  padding: 12px 22px;
  background: var(--desk);
  border-top: 1px solid var(--rule);
}
@media (max-width: 860px) {
  .matches {
    grid-template-rows: auto 1fr;
    grid-template-columns: 1fr;
  }
  .main {
    padding: 12px 12px 0;
  }
  .foot {
    margin: 12px -12px 0;
  }
}
</style>
