<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Finding } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import DiffName from '@/parts/DiffName.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const MOVES_SHOWN = 4
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { data, error, refetch } = useQuery({ queryKey: ['findings'], queryFn: () => ask(api.GET('/api/findings')) })
const { data: libraries } = useQuery({ queryKey: ['libraries'], queryFn: () => ask(api.GET('/api/libraries')) })
const checks = computed(() => (data.value?.checks ?? []).filter((check) => check.count))
const slug = computed(() => (typeof route.query.check === 'string' ? route.query.check : route.query.library ? undefined : checks.value[0]?.slug))
const library = computed(() => (route.query.library ? Number(route.query.library) : undefined))
const check = computed(() => checks.value.find((c) => c.slug === slug.value))
const shown = computed(() => (data.value?.findings ?? []).filter((f) => (slug.value ? f.check === slug.value : true) && (library.value ? f.library_id === library.value : true)))
const names = computed(() => Object.fromEntries((libraries.value?.libraries ?? []).map((l) => [l.id, l.name])))
const titles = computed(() => Object.fromEntries((data.value?.checks ?? []).map((c) => [c.slug, c.title])))
const groups = computed(() => {
  const found = new Map<string, Finding[]>()
  for (const finding of shown.value) {
    const parts = finding.path.replace(/\/$/, '').split('/')
    const place = [names.value[finding.library_id] ?? '', ...(finding.path.endsWith('/') ? parts : parts.slice(0, -1))].join(' / ')
    found.set(place, [...(found.get(place) ?? []), finding])
  }
  return [...found]
})
const why = ref(false)
const at = ref(0)
const moving = computed(() => shown.value.reduce((sum, f) => sum + f.moves.filter((m) => m.after).length, 0))
const perLibrary = computed(() => (libraries.value?.libraries ?? []).map((l) => ({ ...l, count: (data.value?.findings ?? []).filter((f) => f.library_id === l.id).length })).filter((l) => l.count))
watch([slug, library], () => (at.value = 0))
const leaf = (finding: Finding) => {
  const parts = finding.path.replace(/\/$/, '').split('/')
  return (parts.at(-1) ?? '') + (finding.path.endsWith('/') ? '/' : '')
}
const tail = (path: string, finding: Finding) => {
  const base = finding.path.endsWith('/') ? finding.path : finding.path.slice(0, finding.path.lastIndexOf('/') + 1)
  return path.startsWith(base) ? path.slice(base.length) : path
}
function step(by: number): void {
  at.value = Math.min(Math.max(at.value + by, 0), shown.value.length - 1)
  void nextTick(() => document.querySelector('.finding.at')?.scrollIntoView({ block: 'nearest' }))
}
const place = (finding: Finding) => shown.value.indexOf(finding)
useKeys({ j: () => step(1), k: () => step(-1), ArrowDown: () => step(1), ArrowUp: () => step(-1) })
</script>

<template>
  <div class="names">
    <aside>
      <p class="label">{{ t('names.by') }}</p>
      <button v-for="c in checks" :key="c.slug" class="plain row" :class="{ at: c.slug === slug }" @click="router.push({ query: { check: c.slug } })">
        <span class="shape" :class="c.severity" aria-hidden="true">{{ c.severity === 'problem' ? '▲' : '△' }}</span><span>{{ c.title }}</span><b class="mono">{{ c.count }}</b>
      </button>
      <p class="label second">{{ t('names.byLibrary') }}</p>
      <button v-for="l in perLibrary" :key="l.id" class="plain row" :class="{ at: l.id === library }" @click="router.push({ query: { library: l.id } })"><span></span><span>{{ l.name }}</span><b class="mono">{{ l.count }}</b></button>
    </aside>
    <section class="main">
      <ProblemNote v-if="error" :error="error" :retry="refetch" />
      <EmptyPlace v-if="data && !data.findings.length" :title="t('names.clean')" :how="t('names.cleanHow')" />
      <template v-else-if="data">
        <div class="head">
          <h1>{{ check?.title ?? names[library ?? 0] ?? t('names.all') }}</h1><span class="soft">{{ shown.length }}</span>
          <button v-if="check" class="link why" :aria-expanded="why" @click="why = !why">{{ t('names.why') }}</button>
        </div>
        <div v-if="check && why" class="card reason"><p>{{ check.why }}</p><DiffName v-if="check.after" :before="check.before" :after="check.after" /><code v-else>{{ check.before }}</code></div>
        <div class="card list">
          <template v-for="[where, findings] in groups" :key="where">
            <p class="where mono">{{ where }}</p>
            <div v-for="finding in findings" :key="finding.id" class="finding" :class="[{ at: place(finding) === at }, finding.severity]" @click="at = place(finding)">
              <span class="shape" :class="finding.severity" role="img" :aria-label="finding.severity">{{ finding.severity === 'problem' ? '▲' : '△' }}</span>
              <div class="what">
                <template v-if="finding.moves.some((m) => m.after)">
                  <DiffName v-for="move in finding.moves.slice(0, MOVES_SHOWN)" :key="move.before" :before="finding.path.endsWith('/') ? tail(move.before, finding) : move.before.slice(0)" :after="finding.path.endsWith('/') ? tail(move.after ?? '', finding) : (move.after ?? '')" />
                  <span v-if="finding.moves.length > MOVES_SHOWN" class="faint">{{ t('names.more', { n: finding.moves.length - MOVES_SHOWN }) }}</span>
                </template>
                <span v-else class="mono">{{ leaf(finding) }}</span>
                <span class="message soft">{{ finding.message }}</span>
              </div>
              <span class="side faint"><template v-if="!slug">{{ titles[finding.check] }}</template><template v-else-if="!finding.fix">{{ t('names.noFix') }}</template><template v-else-if="finding.fix_kind === 'look'">{{ t('names.look') }}</template></span>
            </div>
          </template>
        </div>
        <p class="foot"><b>{{ t('names.filesMove', moving) }}</b><span class="soft">{{ t('names.readOnly') }}</span><span class="keys"><kbd>j</kbd> {{ t('names.next') }} <kbd>k</kbd> {{ t('names.previous') }}</span></p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.names { display: grid; grid-template-columns: 276px minmax(0, 1fr); min-height: calc(100vh - 54px); }
aside { border-inline-end: 1px solid var(--rule); padding: 16px 0; }
.label { margin: 0 20px 6px; }
.second { margin-top: 24px; }
.row { display: grid; grid-template-columns: 16px 1fr auto; gap: 8px; align-items: center; width: 100%; min-height: 30px; padding: 3px 16px 3px 17px; border-inline-start: 3px solid transparent; }
.row:hover { background: color-mix(in srgb, var(--accent-soft) 60%, transparent); }
.row.at { background: var(--card); border-inline-start-color: var(--accent); font-weight: 600; }
.row b { font-weight: 400; font-size: 12px; color: var(--ink-soft); }
.main { padding: 16px 22px 0; min-width: 0; display: flex; flex-direction: column; }
.head { display: flex; align-items: baseline; gap: 12px; margin-bottom: 10px; }
.why { margin-inline-start: auto; }
.reason { padding: 10px 14px; margin-bottom: 12px; }
.reason p { margin: 0 0 8px; font: 15px/1.55 var(--serif); max-width: 70ch; }
.where { margin: 0; padding: 7px 12px 5px; font-size: 12.5px; color: var(--accent); background: color-mix(in srgb, var(--paper) 55%, var(--card)); border-bottom: 1px solid var(--rule); overflow-wrap: anywhere; }
.finding { display: grid; grid-template-columns: 16px minmax(0, 1fr) auto; gap: 8px; padding: 6px 12px; border-bottom: 1px solid var(--rule); cursor: default; }
.finding:last-child { border: 0; }
.finding.at { box-shadow: inset 0 0 0 2px var(--accent); border-radius: 3px; }
.what { min-width: 0; display: flex; flex-direction: column; gap: 1px; overflow-wrap: anywhere; }
.message { font-size: 12.5px; }
.list { margin-bottom: 16px; }
.side { font-size: 12px; white-space: nowrap; }
.shape { font: 13px/1.5 'DejaVu Sans', var(--sans); color: var(--ink-soft); }
.shape.problem { color: var(--stamp); }
.foot { position: sticky; bottom: 0; display: flex; flex-wrap: wrap; gap: 4px 18px; align-items: center; margin: auto -22px 0; padding: 12px 22px; background: var(--desk); border-top: 1px solid var(--rule); }
.foot b { font-weight: 500; }
.keys { margin-inline-start: auto; }
@media (max-width: 860px) { .names { grid-template-columns: 1fr; } aside { border: 0; border-bottom: 1px solid var(--rule); padding: 8px 0; } .main { padding: 12px 12px 0; } .foot { margin: 12px -12px 0; } .keys { display: none; } .side { display: none; } }
</style>
