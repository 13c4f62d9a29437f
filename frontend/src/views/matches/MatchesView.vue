<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask, Problem, type Match } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateSign from '@/parts/StateSign.vue'
import CompareTable from './CompareTable.vue'

const { t } = useI18n()
const route = useRoute()
const client = useQueryClient()
const { data, error, refetch } = useQuery({ queryKey: ['matches'], queryFn: () => ask(api.GET('/api/matches')) })
const single = computed(() => (route.query.entry ? Number(route.query.entry) : undefined))
const { data: asked } = useQuery({ queryKey: ['matches', 'one', single], queryFn: () => ask(api.GET('/api/entries/{entry_id}/match', { params: { path: { entry_id: single.value! } } })), enabled: () => !!single.value })
const waiting = computed<Match[]>(() => {
  const all = data.value?.waiting ?? []
  return asked.value && single.value && !all.some((m) => m.entry.id === single.value) ? [asked.value, ...all] : all
})
const chosenId = ref<number>()
const at = computed(() => Math.max(0, waiting.value.findIndex((m) => m.entry.id === chosenId.value)))
const match = computed(() => waiting.value[at.value])
const last = ref<number[]>([])
const searching = ref(false)
const words = ref('')
const box = useTemplateRef<HTMLInputElement>('box')
const problem = ref<unknown>()
watch(single, (id) => (chosenId.value = id), { immediate: true })

function step(by: number): void {
  chosenId.value = waiting.value[Math.min(Math.max(at.value + by, 0), waiting.value.length - 1)]?.entry.id
  searching.value = false
}
const deciding = useMutation({
  mutationFn: ({ entry, candidate }: { entry: Match['entry']; candidate: number | null }) => ask(api.POST('/api/entries/{entry_id}/decision', { params: { path: { entry_id: entry.id } }, body: { candidate_id: candidate } })),
  onMutate: ({ entry }) => {
    problem.value = undefined
    const next = waiting.value[at.value + 1] ?? waiting.value[at.value - 1]
    chosenId.value = next?.entry.id === entry.id ? undefined : next?.entry.id
  },
  onSuccess: async (_done, { entry, candidate }) => {
    last.value.push(entry.id)
    ElMessage({ message: t(candidate === null ? 'matches.kept' : 'matches.taken', { title: entry.title }), type: 'success', grouping: true })
    await client.invalidateQueries()
  },
  onError: (reason, { entry }) => {
    problem.value = reason
    chosenId.value = entry.id
  },
})
function take(index: number): void {
  const candidate = match.value?.candidates[index]
  if (match.value && candidate && !deciding.isPending.value) deciding.mutate({ entry: match.value.entry, candidate: candidate.id })
}
function none(): void {
  if (match.value && !deciding.isPending.value) deciding.mutate({ entry: match.value.entry, candidate: null })
}
async function undo(id?: number): Promise<void> {
  const entry = id ?? last.value.pop() ?? data.value?.decided[0]?.id
  if (!entry) return
  try {
    await ask(api.DELETE('/api/entries/{entry_id}/decision', { params: { path: { entry_id: entry } } }))
    ElMessage({ message: t('matches.undone'), type: 'info' })
    await client.invalidateQueries()
    chosenId.value = entry
  } catch (reason) {
    problem.value = reason
  }
}
async function openSearch(): Promise<void> {
  searching.value = true
  words.value = match.value?.entry.title ?? ''
  await nextTick()
  box.value?.focus()
  box.value?.select()
}
const asking = useMutation({
  mutationFn: () => ask(api.POST('/api/entries/{entry_id}/candidates', { params: { path: { entry_id: match.value!.entry.id } }, body: { words: words.value } })),
  onSuccess: async () => {
    problem.value = undefined
    searching.value = false
    await client.invalidateQueries({ queryKey: ['matches'] })
  },
  onError: (reason) => (problem.value = reason instanceof Problem ? reason : new Problem('failed', String(reason), '', 0)),
})
useKeys({
  ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [String(n), () => take(n - 1)])),
  n: none, u: () => void undo(), '/': () => void openSearch(), j: () => step(1), k: () => step(-1), ArrowDown: () => step(1), ArrowUp: () => step(-1),
})
</script>

<template>
  <div class="matches">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <template v-if="data">
      <aside v-if="waiting.length || data.decided.length">
        <p class="label">{{ t('today.waits') }} <span class="mono">{{ waiting.length }}</span></p>
        <button v-for="m in waiting" :key="m.entry.id" class="plain item" :class="{ at: m.entry.id === match?.entry.id }" @click="chosenId = m.entry.id">
          <StateSign :state="m.entry.state" /><span>{{ m.entry.title }}<small class="faint">{{ [m.entry.subtitle, m.entry.year].filter(Boolean).join(', ') || m.library }}</small></span>
        </button>
        <template v-if="data.decided.length">
          <p class="label later">{{ t('matches.decided') }}</p>
          <div v-for="entry in data.decided" :key="entry.id" class="item done"><StateSign :state="entry.state" /><RouterLink :to="`/catalog/entry/${entry.id}`">{{ entry.title }}</RouterLink><button class="link" @click="undo(entry.id)">{{ t('matches.undo') }}</button></div>
        </template>
      </aside>
      <section class="main">
        <EmptyPlace v-if="!match" :title="t('matches.clear')" :how="t('matches.clearHow')" />
        <template v-else>
          <div class="head">
            <h1>{{ match.entry.title }}</h1><span class="soft">{{ match.note }}</span><span class="mono faint count">{{ t('matches.of', { at: at + 1, total: waiting.length }) }}</span>
          </div>
          <ProblemNote v-if="problem" :error="problem" />
          <CompareTable :match="match" :busy="deciding.isPending.value" @take="take" />
          <p v-if="!match.candidates.length" class="soft">{{ t('matches.nobody') }}</p>
          <form v-if="searching" class="words" @submit.prevent="asking.mutate()" @keydown.esc="searching = false">
            <input ref="box" v-model="words" type="search" :aria-label="t('matches.search')" /><el-button native-type="submit" type="primary" :loading="asking.isPending.value">{{ t('matches.search') }}</el-button>
          </form>
          <p class="foot">
            <span><kbd>1</kbd> – <kbd>{{ Math.max(match.candidates.length, 1) }}</kbd> {{ t('keys.take') }}</span>
            <button class="link" @click="none"><kbd>n</kbd> {{ t('matches.none') }}</button>
            <button class="link" @click="openSearch"><kbd>/</kbd> {{ t('matches.search') }}</button>
            <button class="link" @click="undo()"><kbd>u</kbd> {{ t('matches.undo') }}</button>
          </p>
        </template>
      </section>
    </template>
  </div>
</template>

<style scoped>
.matches { display: grid; grid-template-columns: 252px minmax(0, 1fr); min-height: calc(100vh - 54px); }
.matches > .main:only-child { grid-column: 1 / -1; }
aside { border-inline-end: 1px solid var(--rule); padding: 16px 0; }
.label { margin: 0 20px 6px; }
.later { margin-top: 26px; }
.item { display: grid; grid-template-columns: 16px 1fr; gap: 8px; align-items: start; width: 100%; padding: 6px 14px 6px 17px; border-inline-start: 3px solid transparent; line-height: 1.3; }
.item:hover:not(.done) { background: color-mix(in srgb, var(--accent-soft) 60%, transparent); }
.item.at { background: var(--card); border-inline-start-color: var(--accent); font-weight: 500; }
.item small { display: block; font-weight: 400; font-size: 12px; }
.done { grid-template-columns: 16px 1fr auto; font-size: 13px; }
.main { padding: 16px 22px 0; min-width: 0; display: flex; flex-direction: column; }
.head { display: flex; flex-wrap: wrap; align-items: baseline; gap: 2px 14px; margin-bottom: 12px; }
.count { margin-inline-start: auto; }
.words { display: flex; gap: 8px; margin: 14px 0; max-width: 620px; }
.words input { flex: 1; height: 32px; padding: 0 11px; border: 1px solid var(--rule-strong); border-radius: 4px; background: var(--card); color: var(--ink); font: inherit; }
.foot { position: sticky; bottom: 0; display: flex; flex-wrap: wrap; gap: 6px 22px; align-items: center; margin: auto -22px 0; padding: 12px 22px; background: var(--desk); border-top: 1px solid var(--rule); }
@media (max-width: 860px) { .matches { grid-template-columns: 1fr; } aside { border: 0; border-bottom: 1px solid var(--rule); max-height: 30vh; overflow: auto; } .main { padding: 12px 12px 0; } .foot { margin: 12px -12px 0; } }
</style>
