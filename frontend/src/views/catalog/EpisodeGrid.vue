<script setup lang="ts">
/** A series at a glance: seasons by episodes; a dated show months by days; running numbers in rows of ten. */
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { type Entry, type GridCell } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import { cellName, inStory, rowName, type GridRow as Row } from '@/composables/gridWords'
import EpisodePanel from './EpisodePanel.vue'

const WRAPS_FROM = 22
const DAYS = 31

const props = defineProps<{ rows: Entry['grid'] }>()
const { t, locale } = useI18n()
const lit = ref<{ cell: GridCell; row: Row }>()
const numbered = computed(() => props.rows.filter((row) => !row.month && !row.first))
const isDated = computed(() => props.rows.some((row) => row.month))
const widest = computed(() =>
  Math.max(
    ...numbered.value.map((row) => Math.max(...row.cells.map((c) => c.number), row.cells.length)),
    1,
  ),
)
const wraps = computed(() => widest.value > WRAPS_FROM)
/** Numbers above the columns: of episodes, or of days where all is dated. */
const head = computed(() => {
  if (isDated.value && !numbered.value.length) return DAYS
  return numbered.value.length && !wraps.value && !isDated.value ? widest.value : 0
})
/** Where a cell stands in its row; undefined where rows are too long for columns. */
function column(row: Row, cell: GridCell): number | undefined {
  if (row.month) return cell.number
  if (row.first) return cell.number - row.first + 1
  return wraps.value ? undefined : cell.number
}
function name(row: Row, cell: GridCell): string {
  const seen = cell.seen ? `, ${t('marks.seen')}` : ''
  const where = placed(cell) && `, ${placed(cell)}`
  const told = `${cellName(row, cell, locale.value)} ${cell.title}, ${t(`page.${cell.state}`)}${seen}${where}`
  const after = special(row, cell)
  return after ? `${told}; ${t('page.then', { title: after })}` : told
}
/** The episodes that are there, in the order of the story: the panel goes from one to its neighbours. */
const there = computed(() => inStory(props.rows))
/** Cells behind which a special belongs, with what it is called. */
const then = computed(() => {
  const found = new Map<string, string>()
  for (const { cell } of there.value)
    if (cell.behind?.[1]) found.set(cell.behind.join('x'), cell.title)
  return found
})
function special(row: Row, cell: GridCell): string | undefined {
  return row.season && !row.month ? then.value.get(`${row.season}x${cell.number}`) : undefined
}
function placed(cell: GridCell): string {
  if (!cell.behind) return ''
  const [season, number] = cell.behind
  return number ? t('page.behind', { season, number }) : t('page.before', { season })
}
const chosen = ref<number>()
const at = computed(() => there.value.findIndex((one) => one.cell.entry_id === chosen.value))
const open = computed(() => there.value[at.value])
const called = computed(() => {
  const one = open.value
  if (!one) return ''
  const number = cellName(one.row, one.cell, locale.value)
  return one.row.month ? number : `${rowName(one.row, t, locale.value)} · ${number}`
})
function step(by: number): void {
  const next = there.value[at.value + by]
  if (open.value && next) chosen.value = next.cell.entry_id ?? undefined
}
function close(): void {
  const cell = document.querySelector<HTMLElement>('.cell.open')
  chosen.value = undefined
  cell?.focus()
}
useKeys({
  ArrowLeft: () => step(-1),
  ArrowRight: () => step(1),
  Escape: () => open.value && close(),
})
</script>

<template>
  <div class="beside" :class="{ open }">
    <div class="grid" :class="{ days: isDated }" @mouseleave="lit = undefined">
      <div v-if="head" class="row head" aria-hidden="true">
        <span></span
        ><span class="cells placed"
          ><i v-for="n in head" :key="n" class="mono">{{ n }}</i></span
        >
      </div>
      <div v-for="row in rows" :key="`${row.season} ${row.month} ${row.first}`" class="row">
        <span class="season">{{ rowName(row, t, locale) }}</span>
        <span class="cells" :class="{ placed: row.month || row.first || !wraps }">
          <button
            v-for="(cell, index) in row.cells"
            :key="index"
            class="plain cell"
            :class="[
              cell.state,
              { seen: cell.seen, open: open?.cell === cell, then: special(row, cell) },
            ]"
            :aria-expanded="open?.cell === cell"
            :style="{ gridColumn: column(row, cell) }"
            :disabled="!cell.entry_id || cell.state === 'missing'"
            :aria-label="name(row, cell)"
            @mouseenter="lit = { cell, row }"
            @focus="lit = { cell, row }"
            @click="chosen = cell.entry_id ?? undefined"
          >
            {{ cell.state === 'twice' ? '2×' : cell.number }}
          </button>
        </span>
      </div>
      <p class="caption">
        <template v-if="lit"
          ><b>{{ cellName(lit.row, lit.cell, locale) }} · {{ lit.cell.title }}</b
          ><span class="faint">{{ t(`page.${lit.cell.state}`) }}</span
          ><span v-if="placed(lit.cell)" class="faint">{{ placed(lit.cell) }}</span
          ><span v-if="special(lit.row, lit.cell)" class="faint">{{
            t('page.then', { title: special(lit.row, lit.cell) })
          }}</span></template
        ><template v-else
          ><span class="key"><i class="cell here"></i>{{ t('page.here') }}</span
          ><span v-if="rows.some((row) => row.cells.some((cell) => cell.seen))" class="key low"
            ><i class="cell here seen"></i>{{ t('marks.seen') }}</span
          ><span class="key"><i class="cell missing"></i>{{ t('page.missing') }}</span
          ><span class="key"><i class="cell twice"></i>{{ t('page.twice') }}</span
          ><span v-if="then.size" class="key"
            ><i class="sign"></i>{{ t('page.thenSpecial') }}</span
          ></template
        >
      </p>
    </div>
    <EpisodePanel
      v-if="open?.cell.entry_id"
      :entry-id="open.cell.entry_id"
      :called="called"
      :title="open.cell.title"
      :has-before="at > 0"
      :has-after="at < there.length - 1"
      @step="step"
      @close="close"
    />
  </div>
</template>

<style scoped>
.beside.open {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 20px;
  margin-bottom: 20px;
}
.cell.open {
  border-color: var(--accent);
  box-shadow: inset 0 0 0 2px var(--accent);
}
@media (max-width: 900px) {
  .beside.open {
    grid-template-columns: minmax(0, 1fr);
  }
}
.grid {
  margin-bottom: 20px;
  overflow-x: auto;
}
.row {
  display: grid;
  grid-template-columns: 96px 1fr;
  align-items: start;
  margin-bottom: 4px;
}
.season {
  font-weight: 500;
  line-height: 32px;
}
.cells {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.placed {
  display: grid;
  grid-template-columns: repeat(auto-fill, 36px);
  grid-auto-columns: 36px;
  justify-content: start;
}
.days {
  --cell: auto;
}
.days .placed {
  grid-template-columns: repeat(31, minmax(19px, 27px));
  gap: 3px;
}
.head i {
  text-align: center;
  font-size: 11.5px;
  font-style: normal;
  color: var(--ink-faint);
}
.cell {
  width: var(--cell, 36px);
  height: 32px;
  flex: none;
  padding: 0;
  display: grid;
  place-items: center;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  font: 500 12.5px/1 var(--mono);
}
.cell:hover:not(:disabled) {
  border-color: var(--accent);
  box-shadow: inset 0 0 0 1px var(--accent);
}
.cell.here {
  background: var(--moss-soft);
  border-color: color-mix(in srgb, var(--moss) 45%, var(--card));
}
.cell.seen {
  background: var(--card);
  color: var(--ink-faint);
}
.cell.missing {
  background: none;
  border: 1px dashed var(--stamp);
  color: var(--stamp);
  cursor: default;
}
.cell.twice {
  border: 1px solid var(--ochre);
  color: var(--ochre);
  box-shadow:
    2px 2px 0 var(--card),
    3px 3px 0 var(--ochre);
}
/* Behind it belongs a special. */
.cell.then {
  position: relative;
}
.cell.then::after,
.sign {
  width: 6px;
  height: 6px;
  background: var(--accent);
  transform: rotate(45deg);
}
.cell.then::after {
  content: '';
  position: absolute;
  inset-inline-end: -5px;
  top: calc(50% - 3px);
}
.days .cell {
  height: 27px;
  font-size: 11.5px;
}
.days .season {
  line-height: 27px;
}
@media (max-width: 760px) {
  .head {
    display: none;
  }
  .row {
    grid-template-columns: 1fr;
  }
  .season {
    line-height: 24px;
  }
  .caption {
    margin-inline-start: 0 !important;
  }
}
.caption {
  display: flex;
  gap: 16px;
  align-items: center;
  min-height: 24px;
  margin: 8px 0 0 96px;
  font-size: 13px;
}
.caption b {
  font-weight: 500;
}
.key {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  color: var(--ink-soft);
}
.low {
  text-transform: lowercase;
}
.key .cell {
  width: 18px;
  height: 14px;
}
</style>
