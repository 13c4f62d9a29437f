<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Finding } from '@/api/client'
import { useChoices, type Choice } from '@/composables/useChoices'
import { useKeys } from '@/composables/useKeys'
import { useStatus } from '@/composables/useStatus'
import DiffName from '@/parts/DiffName.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import CheckSettings from './CheckSettings.vue'
import FindingRow from './FindingRow.vue'
import PlanSheet from './PlanSheet.vue'
import { usePlans } from '@/composables/usePlans'
import { useRows } from './useRows'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { data: libraries } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
})
const { data: status } = useStatus()
const choices = useChoices()
const sheet = usePlans()
const slug = computed(() => (typeof route.query.check === 'string' ? route.query.check : undefined))
const library = computed(() => (route.query.library ? Number(route.query.library) : undefined))
const { data, error, refetch } = useQuery({
  queryKey: ['findings', slug, library],
  queryFn: () =>
    ask(
      api.GET('/api/findings', {
        params: { query: { check: slug.value, library_id: library.value } },
      }),
    ),
  placeholderData: (before) => before,
})
const checks = computed(() => (data.value?.checks ?? []).filter((one) => one.count))
watch(data, (now) => now && choices.prune(now.since))
const check = computed(() => (data.value?.checks ?? []).find((c) => c.slug === slug.value))
const rank = computed(() =>
  Object.fromEntries((data.value?.checks ?? []).map((c, place) => [c.slug, place])),
)
/** What was asked for before is shown until the answer is there, as far as it belongs here. */
const shown = computed(() =>
  (data.value?.findings ?? [])
    .filter(
      (f) =>
        (!slug.value || f.check === slug.value) &&
        (!library.value || f.library_id === library.value),
    )
    .sort(
      (one, other) =>
        Number(!one.fix) - Number(!other.fix) ||
        (rank.value[one.check] ?? 0) - (rank.value[other.check] ?? 0),
    ),
)
const all = computed(() =>
  Object.values(data.value?.libraries ?? {}).reduce((sum, count) => sum + count, 0),
)
const { rows, partners } = useRows(shown)
const names = computed(() =>
  Object.fromEntries((libraries.value?.libraries ?? []).map((l) => [l.id, l.name])),
)
const titles = computed(() =>
  Object.fromEntries((data.value?.checks ?? []).map((c) => [c.slug, c.title])),
)
const ordered = computed(() => groups.value.flatMap(([, findings]) => findings))
const groups = computed(() => {
  const found = new Map<string, Finding[]>()
  for (const finding of rows.value) {
    const parts = finding.path.replace(/\/$/, '').split('/')
    const place = [
      names.value[finding.library_id] ?? '',
      ...(finding.path.endsWith('/') ? parts : parts.slice(0, -1)),
    ].join(' / ')
    found.set(place, [...(found.get(place) ?? []), finding])
  }
  return [...found]
})
const why = ref(false)
const at = ref(0)
const editing = ref<number>()
const accepted = choices.accepted
const moving = choices.moving
const mendable = computed(() => (data.value?.safe ?? []).filter((f) => choices.of(f) !== 'skip'))
const perLibrary = computed(() =>
  (libraries.value?.libraries ?? []).map((l) => ({
    ...l,
    count: data.value?.libraries[l.id] ?? 0,
  })),
)
const current = computed(() => ordered.value[at.value])
watch([slug, library], () => (at.value = 0))
watch(ordered, (all) => (at.value = Math.max(0, Math.min(at.value, all.length - 1))))
function go(to: number): void {
  at.value = Math.min(Math.max(to, 0), Math.max(ordered.value.length - 1, 0))
  void nextTick(() => document.querySelector('.finding.at')?.scrollIntoView({ block: 'nearest' }))
}
function choose(finding: Finding | undefined, choice: 'accept' | 'skip', by = 1): void {
  if (!finding || (choice === 'accept' && !finding.fix)) return go(at.value + by)
  set(finding, choices.of(finding) === choice ? undefined : choice)
  go(at.value + by)
}
function set(finding: Finding, choice: Choice | undefined): void {
  for (const one of partners(finding)) choices.set(one, choice)
}
function acceptAll(): void {
  for (const finding of mendable.value) choices.set(finding, 'accept')
  for (const finding of shown.value) if (choices.of(finding) === 'accept') set(finding, 'accept')
}
function write(finding: Finding, after: string): void {
  editing.value = undefined
  if (after.trim()) choices.write(finding, after.trim())
}
async function excuse(finding: Finding | undefined): Promise<void> {
  if (!finding) return
  await ask(
    api.POST('/api/findings/{finding_id}/excuse', { params: { path: { finding_id: finding.id } } }),
  ).catch(() => undefined)
  await client.invalidateQueries({ queryKey: ['findings'] })
}
const review = () =>
  accepted.value.length ? sheet.draft(accepted.value, choices.edits) : undefined
async function carryOut(): Promise<void> {
  await sheet.apply()
  if (!sheet.error.value) choices.clear()
}
function turnTo(query: Record<string, string>): void {
  sheet.close()
  void router.push({ query })
}
function turn(by: number): void {
  const pages: Record<string, string>[] = [
    {},
    ...checks.value.map((c) => ({ check: c.slug })),
    ...perLibrary.value.map((l) => ({ library: String(l.id) })),
  ]
  const here = pages.findIndex(
    (page) =>
      page.check === slug.value &&
      (page.library ? Number(page.library) : undefined) === library.value,
  )
  const next = pages[(here + by + pages.length) % pages.length]
  if (next) turnTo(next)
}
const inPlan = computed(() => sheet.plans.value.length > 0)
const list = (act: () => unknown) => () => void (!inPlan.value && act())
useKeys({
  j: list(() => go(at.value + 1)),
  k: list(() => go(at.value - 1)),
  ArrowDown: list(() => go(at.value + 1)),
  ArrowUp: list(() => go(at.value - 1)),
  a: list(() => choose(current.value, 'accept')),
  ' ': list(() => choose(current.value, 'accept')),
  s: list(() => choose(current.value, 'skip')),
  e: list(() => (editing.value = current.value?.fix ? current.value.id : undefined)),
  x: list(() => excuse(current.value)),
  A: list(acceptAll),
  ']': list(() => turn(1)),
  '[': list(() => turn(-1)),
  w: list(() => library.value && sheet.draftWhole(library.value, '')),
  Enter: () =>
    void (inPlan.value
      ? sheet.plans.value.every((p) => p.state === 'draft') && carryOut()
      : review()),
  u: () => void (inPlan.value && sheet.plans.value.some((p) => p.can_undo) && sheet.undo()),
  Escape: () => inPlan.value && sheet.close(),
})
</script>

<template>
  <div class="names">
    <aside>
      <button class="plain row all" :class="{ at: !slug && !library }" @click="turnTo({})">
        <span></span><span>{{ t('names.all') }}</span
        ><b class="mono">{{ all }}</b>
      </button>
      <RouterLink v-if="status?.manages" class="row" to="/names/twice"
        ><span></span><span>{{ t('twice.title') }}</span></RouterLink
      >
      <RouterLink v-if="status?.manages" class="row" to="/names/missing"
        ><span></span><span>{{ t('missing.title') }}</span></RouterLink
      >
      <p class="label second">{{ t('names.by') }}</p>
      <button
        v-for="c in checks"
        :key="c.slug"
        class="plain row"
        :class="{ at: c.slug === slug }"
        @click="turnTo({ check: c.slug })"
      >
        <span class="shape" :class="c.severity" aria-hidden="true">{{
          c.severity === 'problem' ? '▲' : '△'
        }}</span><span>{{ c.title }}</span
        ><b class="mono">{{ c.count }}</b>
      </button>
      <p class="label second">{{ t('names.byLibrary') }}</p>
      <button
        v-for="l in perLibrary"
        :key="l.id"
        class="plain row"
        :class="{ at: l.id === library }"
        @click="turnTo({ library: String(l.id) })"
      >
        <span></span><span>{{ l.name }}</span
        ><b class="mono">{{ l.count }}</b>
      </button>
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
        @close="sheet.close"
      />
      <EmptyPlace
        v-else-if="data && !all && !library"
        :title="t('names.clean')"
        :how="t('names.cleanHow')"
      />
      <template v-else-if="data">
        <div class="head">
          <h1>{{ check?.title ?? names[library ?? 0] ?? t('names.all') }}</h1>
          <span class="soft">{{ data.total > shown.length ? data.total : rows.length }}</span>
          <button v-if="check" class="link why" :aria-expanded="why" @click="why = !why">
            {{ t('names.why') }}
          </button>
          <button v-else-if="library" class="link why" @click="sheet.draftWhole(library, '')">
            {{ t('names.whole') }} <kbd>w</kbd>
          </button>
        </div>
        <div v-if="check && why" class="card reason">
          <p>{{ check.why }}</p>
          <p class="looks">{{ check.looks_at }}</p>
          <DiffName v-if="check.after" :before="check.before" :after="check.after" /><code v-else>{{
            check.before
          }}</code>
          <CheckSettings
            v-if="status?.manages"
            :slug="check.slug"
            :libraries="libraries?.libraries ?? []"
          />
        </div>
        <div v-if="ordered.length" class="card list">
          <template v-for="[where, findings] in groups" :key="where">
            <p class="where mono">{{ where }}</p>
            <FindingRow
              v-for="finding in findings"
              :key="finding.id"
              :finding="finding"
              :choice="choices.of(finding)"
              :at="finding === current"
              :editing="editing === finding.id"
              :after="choices.after"
              :title="
                slug
                  ? undefined
                  : partners(finding)
                      .map((one) => titles[one.check])
                      .join(' · ')
              "
              :reasons="
                partners(finding)
                  .filter((one) => one !== finding && !slug)
                  .map((one) => one.message)
              "
              @here="at = ordered.indexOf(finding)"
              @choose="(choice) => set(finding, choice)"
              @edit="editing = finding.id"
              @write="(after) => write(finding, after)"
              @cancel="editing = undefined"
              @excuse="excuse(finding)"
            />
          </template>
          <p v-if="data.total > shown.length" class="where soft">
            {{ t('names.firstShown', { n: shown.length, all: data.total }) }}
          </p>
        </div>
        <EmptyPlace
          v-else
          :title="t('names.cleanHere')"
          :how="library ? t('names.wholeHow') : ''"
        />
        <div class="foot">
          <el-button type="primary" :disabled="!accepted.length" @click="review"
            >{{ t('names.review') }} <kbd>Enter</kbd></el-button
          >
          <b>{{
            accepted.length
              ? moving
                ? t('names.acceptedOf', { n: accepted.length, files: moving })
                : t('names.acceptedMany', { n: accepted.length })
              : t('names.nothingAccepted')
          }}</b>
          <button v-if="mendable.length" class="link" @click="acceptAll">
            {{ t('names.acceptAll', mendable.length) }} <kbd>A</kbd>
          </button>
          <span class="keys"
            ><kbd>a</kbd> {{ t('names.accept') }} <kbd>s</kbd> {{ t('names.skip') }} <kbd>e</kbd>
            {{ t('names.edit') }} <kbd>x</kbd> {{ t('names.excuse') }}</span
          >
        </div>
      </template>
    </section>
  </div>
</template>

<style scoped>
.names {
  display: grid;
  grid-template-columns: 276px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 0 20px 6px;
}
.second {
  margin-top: 24px;
}
.row {
  display: grid;
  grid-template-columns: 16px 1fr auto;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 30px;
  padding: 3px 16px 3px 17px;
  border-inline-start: 3px solid transparent;
}
.row:hover {
  background: color-mix(in srgb, var(--accent-soft) 60%, transparent);
}
.row.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
  font-weight: 600;
}
.row b {
  font-weight: 400;
  font-size: 12px;
  color: var(--ink-soft);
}
.main {
  padding: 16px 22px 0;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  margin-bottom: 10px;
}
.why {
  margin-inline-start: auto;
}
.reason {
  padding: 10px 14px;
  margin-bottom: 12px;
}
.looks {
  color: var(--ink-soft);
}
.reason p {
  margin: 0 0 8px;
  font: 15px/1.55 var(--serif);
  max-width: 70ch;
}
.where {
  margin: 0;
  padding: 7px 12px 5px;
  font-size: 12.5px;
  color: var(--accent);
  background: color-mix(in srgb, var(--paper) 55%, var(--card));
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.list {
  margin-bottom: 16px;
}
.shape {
  font:
    13px/1.5 'DejaVu Sans',
    var(--sans);
  color: var(--ink-soft);
}
.shape.problem {
  color: var(--stamp);
}
.foot {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
  margin: auto -22px 0;
  padding: 12px 22px;
  background: var(--desk);
  border-top: 1px solid var(--rule);
}
.foot b {
  font-weight: 500;
}
.foot kbd {
  margin-inline-start: 4px;
}
.keys {
  margin-inline-start: auto;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.keys kbd {
  margin-inline: 8px 2px;
}
@media (max-width: 860px) {
  .names {
    grid-template-columns: 1fr;
  }
  aside {
    display: flex;
    overflow-x: auto;
    border: 0;
    border-bottom: 1px solid var(--rule);
    padding: 4px 8px;
  }
  aside .label {
    display: none;
  }
  aside .row {
    width: auto;
    flex: none;
    white-space: nowrap;
    border: 0;
    border-bottom: 3px solid transparent;
    padding: 6px 10px;
  }
  aside .row.at {
    border-bottom-color: var(--accent);
  }
  .main {
    padding: 12px 12px 0;
    min-height: calc(100vh - 150px);
  }
  .foot {
    margin: 12px -12px 0;
  }
  .keys {
    display: none;
  }
}
</style>
