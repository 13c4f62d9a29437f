<script setup lang="ts">
import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { ElMessage } from 'element-plus'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask, Problem, type EntryCard } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateSign from '@/parts/StateSign.vue'
import CompareTable from './CompareTable.vue'

const A_LOOK_MS = 400
const { t } = useI18n()
const route = useRoute()
const client = useQueryClient()
const marks = ref<number[]>([])
const { data, error, refetch } = useQuery({
  queryKey: ['matches'],
  queryFn: () => ask(api.GET('/api/matches')),
})
const more = useQueries({
  queries: computed(() =>
    marks.value.map((after) => ({
      queryKey: ['matches', 'after', after],
      queryFn: () => ask(api.GET('/api/matches', { params: { query: { after } } })),
    })),
  ),
})
const again = computed(() => route.query.list === 'again')
const { data: taken } = useQuery({
  queryKey: ['matches', 'again'],
  queryFn: () => ask(api.GET('/api/matches/again')),
})
const single = computed(() => (route.query.entry ? Number(route.query.entry) : undefined))
const read = (id: number) => ({
  queryKey: ['matches', 'one', id],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}/match', { params: { path: { entry_id: id } } })),
})
const { data: asked } = useQuery({
  queryKey: ['matches', 'one', single],
  queryFn: () => read(single.value!).queryFn(),
  enabled: () => !!single.value,
})
const waiting = computed<EntryCard[]>(() => {
  const pages = [
    ...(data.value?.waiting ?? []),
    ...more.value.flatMap((page) => page.data?.waiting ?? []),
  ]
  const all = (again.value ? taken.value?.entries : pages) ?? []
  return asked.value && single.value && !all.some((card) => card.id === single.value)
    ? [asked.value.entry, ...all]
    : all
})
const total = computed(() =>
  again.value ? waiting.value.length : Math.max(data.value?.total ?? 0, waiting.value.length),
)
function loadMore(): void {
  const last = waiting.value.at(-1)
  if (last && !again.value) marks.value.push(last.id)
}
const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: () => ask(api.GET('/api/sources')),
})
const chosenId = ref<number>()
const at = computed(() =>
  Math.max(
    0,
    waiting.value.findIndex((card) => card.id === chosenId.value),
  ),
)
const current = computed(() => waiting.value[at.value])
const { data: match } = useQuery({
  queryKey: ['matches', 'one', () => current.value?.id],
  queryFn: () => read(current.value!.id).queryFn(),
  enabled: () => !!current.value,
})
/** The next ones are fetched before they are needed, so that a key pressed at once finds them there. */
watch(
  [at, waiting],
  () => {
    for (const card of waiting.value.slice(at.value + 1, at.value + 3))
      void client.prefetchQuery({ ...read(card.id), staleTime: 10_000 })
  },
  { immediate: true },
)
const last = ref<number[]>([])
const searching = ref(false)
const words = ref('')
const box = useTemplateRef<HTMLInputElement>('box')
const problem = ref<unknown>()
const from = ref('')
/** The source whose candidate was taken, so that the table can mark it. */
const settledAs = computed(() =>
  again.value || match.value?.entry.state === 'settled' ? match.value?.taken : null,
)
/** What waits, with a head before albums of one artist. */
const groupOf = (card: EntryCard | undefined) => (card?.kind === 'album' ? card.subtitle : '')
const listed = computed(() =>
  waiting.value.map((card, place, all) => {
    const name = groupOf(card)
    const alike = name ? all.filter((other) => groupOf(other) === name) : []
    return { card, head: alike.length > 1 && groupOf(all[place - 1]) !== name ? alike : undefined }
  }),
)
const group = computed(() =>
  groupOf(current.value)
    ? waiting.value.filter((card) => groupOf(card) === groupOf(current.value))
    : [],
)
watch(again, () => (chosenId.value = undefined))
watch(single, (id) => (chosenId.value = id), { immediate: true })

/** Entries whose candidates were asked about already: it is done once, when a person looks. */
const looked = new Set<number>()
watch(match, async (now) => {
  if (
    !now ||
    looked.has(now.entry.id) ||
    now.candidates.every((candidate) => candidate.is_looked_at)
  )
    return
  looked.add(now.entry.id)
  await new Promise((later) => setTimeout(later, A_LOOK_MS)) // who only passes by does not look
  if (match.value?.entry.id !== now.entry.id) return void looked.delete(now.entry.id)
  await ask(
    api.POST('/api/entries/{entry_id}/look', { params: { path: { entry_id: now.entry.id } } }),
  ).catch(() => undefined)
  await client.invalidateQueries({ queryKey: ['matches'] })
})
function step(by: number): void {
  chosenId.value = waiting.value[Math.min(Math.max(at.value + by, 0), waiting.value.length - 1)]?.id
  searching.value = false
}
const deciding = useMutation({
  mutationFn: ({ entry, candidate }: { entry: EntryCard; candidate: number | null }) =>
    ask(
      api.POST('/api/entries/{entry_id}/decision', {
        params: { path: { entry_id: entry.id } },
        body: { candidate_id: candidate },
      }),
    ),
  onMutate: ({ entry }) => {
    problem.value = undefined
    const next = waiting.value[at.value + 1] ?? waiting.value[at.value - 1]
    chosenId.value = next?.id === entry.id ? undefined : next?.id
  },
  onSuccess: (_done, { entry, candidate }) => {
    last.value.push(entry.id)
    ElMessage({
      message: t(candidate === null ? 'matches.kept' : 'matches.taken', { title: entry.title }),
      type: 'success',
      grouping: true,
    })
    void client.invalidateQueries() // not waited for: the next key must not be lost while lists are fetched
  },
  onError: (reason, { entry }) => {
    problem.value = reason
    chosenId.value = entry.id
  },
})
/** What was pressed for an entry before it was there, or while the one before was being sent. */
const pressed = ref<{ entry: number; index: number | null }>()
/** Decide on the entry at hand: a candidate by its place, or nothing of them. No key is lost. */
function decide(index: number | null): void {
  if (current.value) pressed.value = { entry: current.value.id, index }
}
watch([pressed, match, deciding.isPending], () => {
  const { entry, index } = pressed.value ?? {}
  if (entry === undefined || index === undefined || deciding.isPending.value) return
  if (entry !== current.value?.id) pressed.value = undefined
  if (match.value?.entry.id !== entry) return
  pressed.value = undefined
  const candidate = index === null ? null : match.value.candidates[index]?.id
  if (candidate !== undefined) deciding.mutate({ entry: match.value.entry, candidate })
})
const take = (index: number): void => decide(index)
const none = (): void => decide(null)
const settling = useMutation({
  mutationFn: async (together: readonly EntryCard[]) => {
    await ask(
      api.POST('/api/decisions', {
        body: { choices: together.map((card) => ({ entry_id: card.id, candidate_id: null })) },
      }),
    )
    return together
  },
  onSuccess: async (together) => {
    last.value.push(...together.map((card) => card.id))
    ElMessage({ message: t('matches.takenAll', together.length), type: 'success' })
    await client.invalidateQueries()
  },
  onError: (reason) => (problem.value = reason),
})
function takeAll(together: readonly EntryCard[]): void {
  if (together.length > 1 && !settling.isPending.value && !deciding.isPending.value)
    settling.mutate(together)
}
const confirming = useMutation({
  mutationFn: (entry: EntryCard) =>
    ask(api.POST('/api/entries/{entry_id}/confirm', { params: { path: { entry_id: entry.id } } })),
  onMutate: (entry) => {
    const next = waiting.value[at.value + 1] ?? waiting.value[at.value - 1]
    chosenId.value = next?.id === entry.id ? undefined : next?.id
  },
  onSuccess: (_done, entry) => {
    last.value.push(entry.id)
    void client.invalidateQueries({ queryKey: ['matches'] })
  },
  onError: (reason) => (problem.value = reason),
})
function confirm(): void {
  if (again.value && current.value && !confirming.isPending.value) confirming.mutate(current.value)
}
async function undo(id?: number): Promise<void> {
  const entry = id ?? last.value.pop() ?? data.value?.decided[0]?.id
  if (!entry) return
  try {
    await ask(
      api.DELETE('/api/entries/{entry_id}/decision', { params: { path: { entry_id: entry } } }),
    )
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
const typed = refDebounced(words, 300)
const { data: proposed } = useQuery({
  queryKey: ['proposed', typed, () => match.value?.entry.id],
  queryFn: () =>
    ask(
      api.GET('/api/entries/{entry_id}/suggest', {
        params: { path: { entry_id: match.value!.entry.id }, query: { q: typed.value } },
      }),
    ),
  enabled: () => searching.value && !!match.value && typed.value.trim().length > 1,
})
const asking = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/entries/{entry_id}/candidates', {
        params: { path: { entry_id: match.value!.entry.id } },
        body: { words: words.value, source: from.value || null },
      }),
    ),
  onSuccess: async () => {
    problem.value = undefined
    searching.value = false
    await client.invalidateQueries({ queryKey: ['matches'] })
  },
  onError: (reason) =>
    (problem.value =
      reason instanceof Problem ? reason : new Problem('failed', String(reason), '', 0)),
})
useKeys({
  ...Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [String(n), () => take(n - 1)])),
  n: none,
  y: confirm,
  g: () => takeAll(group.value),
  u: () => void undo(),
  '/': () => void openSearch(),
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
      <aside v-if="waiting.length || data.decided.length || taken?.entries.length">
        <nav class="lists" :aria-label="t('matches.title')">
          <RouterLink :to="{ query: {} }" :class="{ at: !again }"
            >{{ t('today.waits') }} <span class="mono">{{ data.total }}</span></RouterLink
          >
          <RouterLink
            :to="{ query: { list: 'again' } }"
            :class="{ at: again }"
            :title="t('matches.againHow')"
            >{{ t('matches.again') }}
            <span class="mono">{{ taken?.entries.length ?? 0 }}</span></RouterLink
          >
        </nav>
        <template v-for="{ card, head } in listed" :key="card.id">
          <p v-if="head" class="group">
            <b>{{ card.subtitle }}</b><button class="link" @click="takeAll(head)">
              {{ t('matches.takeGroup', head.length) }}
            </button>
          </p>
          <button
            class="plain item"
            :class="{
              at: card.id === current?.id,
              inner: group.length > 1 && groupOf(card) === groupOf(current),
            }"
            @click="chosenId = card.id"
          >
            <StateSign :state="card.state" /><span
              >{{ card.title
              }}<small class="faint">{{
                [card.subtitle, card.year].filter(Boolean).join(', ')
              }}</small></span
            >
          </button>
        </template>
        <button
          v-if="waiting.length < total"
          class="link later more"
          data-test="more"
          @click="loadMore"
        >
          {{ t('today.more', { n: total - waiting.length }) }}
        </button>
        <template v-if="data.decided.length">
          <p class="label later">{{ t('matches.decided') }}</p>
          <div v-for="entry in data.decided" :key="entry.id" class="item done">
            <StateSign :state="entry.state" /><RouterLink :to="`/catalog/entry/${entry.id}`">{{
              entry.title
            }}</RouterLink
            ><button class="link" @click="undo(entry.id)">{{ t('matches.undo') }}</button>
          </div>
        </template>
      </aside>
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
          <CompareTable
            :match="match"
            :taken="settledAs ?? null"
            :busy="deciding.isPending.value"
            @take="take"
          />
          <p v-if="!match.candidates.length" class="soft">{{ t('matches.nobody') }}</p>
          <form
            v-if="searching"
            class="words"
            @submit.prevent="asking.mutate()"
            @keydown.esc="searching = false"
          >
            <input
              ref="box"
              v-model="words"
              type="search"
              list="proposed"
              :aria-label="t('matches.search')"
            /><datalist id="proposed">
              <option v-for="name in proposed?.names" :key="name" :value="name" />
            </datalist>
            <select
              v-if="(sources?.sources.length ?? 0) > 1"
              v-model="from"
              :aria-label="t('house.sources')"
            >
              <option value="">{{ t('matches.everySource') }}</option>
              <option v-for="source in sources?.sources" :key="source.id">
                {{ source.name }}
              </option></select
            ><el-button native-type="submit" type="primary" :loading="asking.isPending.value">{{
              t('matches.search')
            }}</el-button>
          </form>
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
.matches {
  display: grid;
  grid-template-columns: 252px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
.matches > .main:only-child {
  grid-column: 1 / -1;
}
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 0 20px 6px;
}
.lists {
  display: flex;
  gap: 2px;
  margin: 0 12px 10px;
  border-bottom: 1px solid var(--rule);
}
.lists a {
  padding: 4px 8px 6px;
  color: var(--ink-soft);
  font-weight: 500;
  font-size: 13px;
}
.lists a:hover {
  text-decoration: none;
  color: var(--ink);
}
.lists a.at {
  color: var(--ink);
  box-shadow: inset 0 -2px 0 var(--accent);
}
.group {
  display: flex;
  flex-direction: column;
  align-items: start;
  gap: 1px;
  margin: 10px 20px 2px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  line-height: 1.3;
}
.group b {
  font: 700 14px var(--serif);
}
.group .link {
  font-size: 12.5px;
}
.later {
  margin-top: 26px;
}
.more {
  margin: 10px 20px;
}
.item {
  display: grid;
  grid-template-columns: 16px 1fr;
  gap: 8px;
  align-items: start;
  width: 100%;
  padding: 6px 14px 6px 17px;
  border-inline-start: 3px solid transparent;
  line-height: 1.3;
}
.item:hover:not(.done) {
  background: color-mix(in srgb, var(--accent-soft) 60%, transparent);
}
.item.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
  font-weight: 500;
}
.item small {
  display: block;
  font-weight: 400;
  font-size: 12px;
}
.done {
  grid-template-columns: 16px 1fr auto;
  font-size: 13px;
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
.words {
  display: flex;
  gap: 8px;
  margin: 14px 0;
  max-width: 620px;
}
.words select {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
}
.words input {
  flex: 1;
  height: 32px;
  padding: 0 11px;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
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
    grid-template-columns: 1fr;
  }
  aside {
    border: 0;
    border-bottom: 1px solid var(--rule);
    max-height: 30vh;
    overflow: auto;
  }
  .main {
    padding: 12px 12px 0;
  }
  .foot {
    margin: 12px -12px 0;
  }
}
</style>
