<script setup lang="ts">
/** What is wrong with names, to be mended by keys: accepted one by one or together, looked over as a plan, carried out. */
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { Finding } from '@/api/client'
import { useChoices, type Choice } from '@/composables/useChoices'
import { useKeys } from '@/composables/useKeys'
import { usePlans } from '@/composables/usePlans'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import CheckReason from './CheckReason.vue'
import FindingRow from './FindingRow.vue'
import NamesFoot from './NamesFoot.vue'
import NamesNav from './NamesNav.vue'
import PlanSheet from './PlanSheet.vue'
import { useFindings } from './useFindings'

const { t, n } = useI18n()
const router = useRouter()
const choices = useChoices()
const sheet = usePlans()
const { slug, library, libraries, data, error, refetch, checks, check, titles, names, ...found } =
  useFindings()
const { perLibrary, all, shown, partners, groups, ordered, excuse } = found
watch(data, (now) => now && choices.prune(now.since))
const why = ref(false)
const at = ref(0)
const editing = ref<number>()
const accepted = choices.accepted
const moving = choices.moving
const mendable = computed(() => {
  const skipped = shown.value.filter((f) => f.fix_kind === 'safe' && choices.of(f) === 'skip')
  return Math.max((data.value?.safe ?? 0) - skipped.length, 0)
})
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
const problem = ref<Error>()
/** A plan waits for what is just being accepted; where that failed, none is made of the rest unasked. */
let accepting = Promise.resolve(true)
function acceptAll(): void {
  problem.value = undefined
  accepting = takeAll().then(
    () => true,
    (error: Error) => {
      problem.value = error
      return false
    },
  )
}
async function takeAll(): Promise<void> {
  for (const finding of await found.mendable())
    if (choices.of(finding) !== 'skip') choices.set(finding, 'accept')
  for (const finding of shown.value) if (choices.of(finding) === 'accept') set(finding, 'accept')
}
function write(finding: Finding, after: string): void {
  editing.value = undefined
  if (after.trim()) choices.write(finding, after.trim())
}
async function review(): Promise<void> {
  const isAll = await accepting
  accepting = Promise.resolve(true)
  if (isAll && accepted.value.length) await sheet.draft(accepted.value, choices.edits)
}
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
    <NamesNav
      :all="all"
      :checks="checks"
      :per-library="perLibrary"
      :slug="slug"
      :library="library"
      @turn="turnTo"
    />
    <section class="main">
      <ProblemNote v-if="error" :error="error" :retry="refetch" />
      <ProblemNote v-if="sheet.error.value" :error="sheet.error.value" />
      <ProblemNote v-if="problem" :error="problem" />
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
          <span class="soft">{{ n(data.total) }}</span>
          <button v-if="check" class="link why" :aria-expanded="why" @click="why = !why">
            {{ t('names.why') }}
          </button>
          <button v-else-if="library" class="link why" @click="sheet.draftWhole(library, '')">
            {{ t('names.whole') }} <kbd>w</kbd>
          </button>
        </div>
        <CheckReason v-if="check && why" :check="check" :libraries="libraries?.libraries ?? []" />
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
            {{ t('names.firstShown', { n: n(shown.length), all: n(data.total) }) }}
          </p>
        </div>
        <EmptyPlace
          v-else
          :title="t('names.cleanHere')"
          :how="library ? t('names.wholeHow') : ''"
        />
        <NamesFoot
          :accepted="accepted.length"
          :moving="moving"
          :mendable="mendable"
          @review="review"
          @accept-all="acceptAll"
        />
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
@media (max-width: 860px) {
  .names {
    grid-template-rows: auto 1fr;
    grid-template-columns: 1fr;
  }
  .main {
    padding: 12px 12px 0;
    min-height: calc(100vh - 150px);
  }
}
</style>
