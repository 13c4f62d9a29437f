<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { Entry, GridCell } from '@/api/client'

const props = defineProps<{ rows: Entry['grid'] }>()
const { t } = useI18n()
const router = useRouter()
const lit = ref<GridCell>()
const widest = computed(() =>
  Math.max(
    ...props.rows.map((row) => Math.max(...row.cells.map((c) => c.number), row.cells.length)),
    1,
  ),
)
const wraps = computed(() => widest.value > 22)
const spaced = computed(() =>
  props.rows.map((row) => ({
    ...row,
    cells: wraps.value
      ? row.cells
      : Array.from({ length: Math.max(...row.cells.map((c) => c.number), 0) }, (_, i) =>
          row.cells.find((c) => c.number === i + 1),
        ),
  })),
)
function open(cell: GridCell): void {
  if (cell.entry_id && cell.state !== 'missing') void router.push(`/catalog/entry/${cell.entry_id}`)
}
</script>

<template>
  <div class="grid" @mouseleave="lit = undefined">
    <div v-if="!wraps" class="row head" aria-hidden="true">
      <span></span
      ><span class="cells"
        ><i v-for="n in widest" :key="n" class="mono">{{ n }}</i></span
      >
    </div>
    <div v-for="row in spaced" :key="String(row.season)" class="row">
      <span class="season">{{
        row.season === 0
          ? t('page.specials')
          : row.season === null
            ? row.title
            : `${t('page.season')} ${row.season}`
      }}</span>
      <span class="cells">
        <template v-for="(cell, index) in row.cells" :key="index">
          <button
            v-if="cell"
            class="plain cell"
            :class="[cell.state, { seen: cell.seen }]"
            :disabled="!cell.entry_id || cell.state === 'missing'"
            :aria-label="`${cell.number} ${cell.title}, ${t(`page.${cell.state}`)}${cell.seen ? `, ${t('marks.seen')}` : ''}`"
            @mouseenter="lit = cell"
            @focus="lit = cell"
            @click="open(cell)"
          >
            {{ cell.state === 'twice' ? '2×' : cell.number }}
          </button>
          <span v-else class="cell gap"></span>
        </template>
      </span>
    </div>
    <p class="caption">
      <template v-if="lit"
        ><b>{{ lit.number }} · {{ lit.title }}</b
        ><span class="faint">{{ t(`page.${lit.state}`) }}</span></template
      ><template v-else
        ><span class="key"><i class="cell here"></i>{{ t('page.here') }}</span
        ><span v-if="rows.some((row) => row.cells.some((cell) => cell.seen))" class="key low"
          ><i class="cell here seen"></i>{{ t('marks.seen') }}</span
        ><span class="key"><i class="cell missing"></i>{{ t('page.missing') }}</span
        ><span class="key"><i class="cell twice"></i>{{ t('page.twice') }}</span></template
      >
    </p>
  </div>
</template>

<style scoped>
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
.head .cells {
  flex-wrap: nowrap;
}
.head i {
  width: 36px;
  flex: none;
  text-align: center;
  font-size: 11.5px;
  font-style: normal;
  color: var(--ink-faint);
}
.cell {
  width: 36px;
  height: 32px;
  flex: none;
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
.cell.gap {
  border: 0;
  background: none;
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
