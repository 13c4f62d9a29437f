<script setup lang="ts">
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Twin } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import JobRow from '@/parts/JobRow.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import PlanSheet from '@/views/names/PlanSheet.vue'
import { usePlans } from '@/composables/usePlans'
import TwinCard from './TwinCard.vue'

type Kind = '' | Twin['kind']
const KINDS: readonly Twin['kind'][] = ['same-bytes', 'same-work', 'near-picture', 'near-sound']
const { t } = useI18n()
const client = useQueryClient()
const sheet = usePlans()
const kind = ref<Kind>('')
const { data, error, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['duplicates', kind],
  queryFn: ({ pageParam }) =>
    ask(api.GET('/api/duplicates', { params: { query: { after: pageParam, kind: kind.value } } })),
  initialPageParam: 0,
  getNextPageParam: (page) => page.next,
})
const { data: jobs } = useQuery({ queryKey: ['jobs'], queryFn: () => ask(api.GET('/api/jobs')) })
const looking = computed(() =>
  (jobs.value?.jobs ?? []).find(
    (job) => job.kind === 'duplicates' && ['queued', 'running'].includes(job.state),
  ),
)
const groups = computed(() => data.value?.pages.flatMap((page) => page.groups) ?? [])
const counts = computed(() => data.value?.pages[0]?.counts ?? {})
const all = computed(() => Object.values(counts.value).reduce((sum, count) => sum + count, 0))
const keep = ref<Record<number, number>>({})
const chosen = ref<ReadonlySet<number>>(new Set())
const at = ref(0)
const kept = (twin: Twin) => keep.value[twin.id] ?? twin.files[0]?.id ?? 0
const inPlan = computed(() => sheet.plans.value.length > 0)
watch(kind, () => (at.value = 0))
watch(looking, (now, was) => was && !now && void refetch())

function toggle(twin: Twin | undefined): void {
  if (!twin) return
  const next = new Set(chosen.value)
  if (!next.delete(twin.id)) next.add(twin.id)
  chosen.value = next
}
function go(to: number): void {
  at.value = Math.min(Math.max(to, 0), Math.max(groups.value.length - 1, 0))
  void nextTick(() => document.querySelector('.twin.at')?.scrollIntoView({ block: 'nearest' }))
}
async function look(): Promise<void> {
  await ask(api.POST('/api/duplicates/look')).catch(() => undefined)
  await client.invalidateQueries({ queryKey: ['jobs'] })
}
async function distinct(twin: Twin | undefined): Promise<void> {
  if (!twin) return
  await ask(
    api.POST('/api/duplicates/{twin_id}/distinct', { params: { path: { twin_id: twin.id } } }),
  ).catch(() => undefined)
  await refetch()
}
const review = () =>
  chosen.value.size
    ? sheet.draftBin(
        groups.value
          .filter((twin) => chosen.value.has(twin.id))
          .map((twin) => ({ group: twin.id, keep: kept(twin) })),
      )
    : undefined
async function carryOut(): Promise<void> {
  await sheet.apply()
  if (!sheet.error.value) chosen.value = new Set()
}
function close(): void {
  sheet.close()
  void refetch()
}
const list = (act: () => unknown) => () => void (!inPlan.value && act())
useKeys({
  j: list(() => go(at.value + 1)),
  k: list(() => go(at.value - 1)),
  a: list(() => toggle(groups.value[at.value])),
  x: list(() => distinct(groups.value[at.value])),
  Enter: () =>
    void (inPlan.value
      ? sheet.plans.value.every((p) => p.state === 'draft') && carryOut()
      : review()),
  u: () => void (inPlan.value && sheet.plans.value.some((p) => p.can_undo) && sheet.undo()),
  Escape: () => inPlan.value && close(),
})
</script>

<template>
  <div class="twice">
    <aside>
      <button class="plain row" :class="{ at: !kind }" @click="kind = ''">
        <span>{{ t('twice.title') }}</span><b class="mono">{{ all }}</b>
      </button>
      <p class="label">{{ t('twice.how') }}</p>
      <button
        v-for="one in KINDS"
        :key="one"
        class="plain row"
        :class="{ at: kind === one }"
        @click="kind = one"
      >
        <span>{{ t(`twice.kind.${one}`) }}</span><b class="mono">{{ counts[one] ?? 0 }}</b>
      </button>
      <RouterLink class="back" to="/names">{{ t('twice.toNames') }}</RouterLink>
    </aside>
    <section class="main">
      <ProblemNote v-if="error" :error="error" :retry="refetch" />
      <ProblemNote v-if="sheet.error.value" :error="sheet.error.value" />
      <PlanSheet
        v-if="inPlan"
        :plans="sheet.plans.value"
        :jobs="sheet.jobs.value"
        :busy="sheet.busy.value"
        @apply="carryOut"
        @undo="sheet.undo"
        @close="close"
      />
      <template v-else>
        <div class="head">
          <h1>{{ t('twice.title') }}</h1>
          <el-button :disabled="!!looking" @click="look">{{ t('twice.look') }}</el-button>
        </div>
        <div v-if="looking" class="card"><JobRow :job="looking" /></div>
        <EmptyPlace
          v-if="data && !groups.length && !looking"
          :title="t('twice.none')"
          :how="t('twice.noneHow')"
        />
        <TwinCard
          v-for="(twin, place) in groups"
          :key="twin.id"
          :twin="twin"
          :keep="kept(twin)"
          :chosen="chosen.has(twin.id)"
          :at="place === at"
          @here="at = place"
          @keep="(id) => (keep = { ...keep, [twin.id]: id })"
          @choose="toggle(twin)"
          @distinct="distinct(twin)"
        />
        <button v-if="hasNextPage" class="link" @click="fetchNextPage()">
          {{ t('twice.more') }}
        </button>
        <div v-if="groups.length" class="foot">
          <el-button type="primary" :disabled="!chosen.size" @click="review"
            >{{ t('names.review') }} <kbd>Enter</kbd></el-button
          >
          <b>{{ t('twice.chosenMany', chosen.size) }}</b>
          <span class="keys"
            ><kbd>a</kbd> {{ t('twice.choose') }} <kbd>x</kbd> {{ t('twice.distinct') }}</span
          >
        </div>
      </template>
    </section>
  </div>
</template>

<style scoped>
.twice {
  display: grid;
  grid-template-columns: 276px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 24px 20px 6px;
}
.row {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 30px;
  padding: 3px 16px 3px 17px;
  border-inline-start: 3px solid transparent;
  text-align: start;
}
.row.at {
  border-inline-start-color: var(--ink);
  background: var(--card);
}
.row b {
  font-weight: 400;
}
.back {
  display: block;
  margin: 24px 20px 0;
}
.main {
  padding: 18px 24px 0;
  display: flex;
  flex-direction: column;
  gap: 14px;
  min-width: 0;
}
.head {
  display: flex;
  align-items: center;
  gap: 16px;
  justify-content: space-between;
}
.foot {
  position: sticky;
  bottom: 0;
  margin-top: auto;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  padding: 12px 0 16px;
  background: var(--paper);
  border-top: 1px solid var(--rule);
}
.foot :deep(.el-button kbd) {
  margin-inline-start: 8px;
}
.foot b {
  font-weight: 500;
}
.keys {
  margin-inline-start: auto;
  color: var(--ink-soft);
}
@media (max-width: 860px) {
  .twice {
    grid-template-columns: 1fr;
  }
  aside {
    border-inline-end: 0;
    border-bottom: 1px solid var(--rule);
    padding-bottom: 12px;
  }
  .main {
    padding: 14px 16px 0;
  }
  .keys {
    display: none;
  }
}
</style>
