<script
  setup
  lang="ts"
  generic="T extends Lying & { entry: EntryCard; town: string; country: string }"
>
/** Prints of photos on a plain map, where they were taken. */
import { computed, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { at as address, type EntryCard } from '@/api/client'
import {
  around,
  bounded,
  piled,
  place,
  ruler,
  seen,
  withInSight,
  type Box,
  type Lying,
  type Pile,
  type View,
} from '@/composables/earth'
import { calledFrom } from '@/composables/placeWords'
import { useLand } from '@/composables/useLand'
import { useMapMoves } from '@/composables/useMapMoves'

const PRINT_PX = 84
const props = defineProps<{ heaps: readonly T[]; pile?: Pile<T> }>()
const view = defineModel<View>('view')
const emit = defineEmits<{ look: [box: Box]; choose: [pile: Pile<T>] }>()
const { t, n, locale } = useI18n()
const element = useTemplateRef<HTMLElement>('sheet')
const { size, zoom, step, isDragged } = useMapMoves(element, view)
const { land, net, side } = useLand(() => view.value?.scale ?? 0)

watch([() => props.heaps, size], ([heaps]) => {
  if (!view.value && heaps.length && size.value.width) view.value = around(heaps, size.value)
})
watch(view, (now) => now && emit('look', seen(now, size.value)))
/** Has all of these in sight, and comes closer. */
function show(places: readonly Lying[]): void {
  const before = view.value?.scale ?? 0
  const now = places.length ? around(places, size.value) : undefined
  if (now) view.value = bounded({ ...now, scale: Math.max(now.scale, before * 2) }, size.value)
}
/** Has these in sight, and no more than that. */
function whole(places: readonly Lying[]): void {
  if (places.length) view.value = around(places, size.value)
}
defineExpose({ whole, show })
watch([() => props.pile, size], ([chosen]) => {
  if (chosen && view.value)
    view.value = withInSight(view.value, size.value, chosen.first.latitude, chosen.first.longitude)
})

const piles = computed(() => {
  const now = view.value
  if (!now) return []
  const inSight = ({ left, top }: { left: number; top: number }) =>
    left > -PRINT_PX &&
    top > -PRINT_PX &&
    left < size.value.width + PRINT_PX &&
    top < size.value.height + PRINT_PX
  return piled(props.heaps, now.scale, PRINT_PX + 8)
    .map((pile) => ({
      pile,
      ...place(now, size.value, pile.first.latitude, pile.first.longitude),
    }))
    .filter(inSight)
    .toSorted((a, b) => a.top - b.top || a.left - b.left)
})
const box = computed(() => {
  const now = view.value
  if (!now) return `0 0 ${side} ${side}`
  const [wide, high] = [size.value.width / now.scale, size.value.height / now.scale]
  return [now.x - wide / 2, now.y - high / 2, wide, high].map((one) => one * side).join(' ')
})
const scale = computed(() => (view.value ? ruler(view.value, 110) : undefined))
const length = (metres: number) => (metres < 1000 ? `${n(metres)} m` : `${n(metres / 1000)} km`)
const called = (pile: Pile<T>) =>
  calledFrom(pile.first, view.value?.scale ?? 0, locale.value, pile.cells.length)
const isChosen = (pile: Pile<T>) =>
  pile.cells.some((cell) =>
    props.pile?.cells.some((one) => one.startsWith(cell) || cell.startsWith(one)),
  )
function choose(pile: Pile<T>): void {
  if (!isDragged.value) emit('choose', pile)
}
</script>

<template>
  <div ref="sheet" class="sheet" role="group" :aria-label="t('map.title')">
    <svg :viewBox="box" preserveAspectRatio="none" aria-hidden="true">
      <path :d="net" class="net" />
      <path :d="land" class="land" />
    </svg>
    <button
      v-for="{ pile: one, left, top } in piles"
      :key="one.first.cell"
      class="plain print"
      :class="{ chosen: isChosen(one) }"
      :style="{ left: `${left}px`, top: `${top}px` }"
      :aria-pressed="isChosen(one)"
      data-test="heap"
      @click="choose(one)"
    >
      <span
        class="image"
        :style="{
          backgroundImage: one.first.entry.picture
            ? `url(${address(`pictures/${one.first.entry.picture.digest}/240`)}), url(${one.first.entry.picture.blur})`
            : undefined,
        }"
      ></span>
      <span class="said"
        ><b v-if="called(one)">{{ called(one) }}</b
        ><span class="mono" aria-hidden="true">{{ n(one.count) }}</span
        ><span class="only-said">{{ t('map.photos', { n: n(one.count) }, one.count) }}</span></span
      >
    </button>
    <p v-if="scale" class="ruler mono" aria-hidden="true" :style="{ width: `${scale.px}px` }">
      {{ length(scale.metres) }}
    </p>
    <p class="zoom">
      <button :aria-label="t('map.closer')" @click="zoom(step)">+</button>
      <button :aria-label="t('map.farther')" @click="zoom(1 / step)">−</button>
    </p>
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
  overflow: hidden;
  min-height: 300px;
  border: 1px solid var(--rule-strong);
  background: var(--paper);
  touch-action: none;
  user-select: none;
  cursor: grab;
}
.sheet:active {
  cursor: grabbing;
}
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.land {
  fill: var(--desk);
  stroke: var(--rule-strong);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
.net {
  fill: none;
  stroke: var(--rule);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}
.print {
  position: absolute;
  display: block;
  width: 84px;
  margin: -42px 0 0 -42px;
  padding: 4px 4px 0;
  border: 1px solid var(--rule-strong);
  background: var(--card);
  box-shadow: var(--shadow);
  text-align: start;
}
.print:hover,
.print:focus-visible {
  z-index: 2;
}
.print.chosen {
  z-index: 3;
  outline: 3px solid var(--accent);
}
.image {
  display: block;
  height: 54px;
  background: var(--desk) center / cover;
}
.said {
  display: flex;
  gap: 4px;
  align-items: baseline;
  justify-content: space-between;
  height: 19px;
  font-size: 10.5px;
  line-height: 19px;
}
.said b {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 500;
}
.said .mono {
  margin-inline-start: auto;
  color: var(--ink-soft);
}
.ruler {
  position: absolute;
  bottom: 12px;
  inset-inline-start: 14px;
  margin: 0;
  padding: 0 4px 2px;
  border: solid var(--ink-soft);
  border-width: 0 1px 1px;
  color: var(--ink-soft);
  font-size: 11px;
  text-align: center;
  pointer-events: none;
}
.zoom {
  position: absolute;
  top: 12px;
  inset-inline-end: 12px;
  display: grid;
  margin: 0;
}
.zoom button {
  width: 32px;
  height: 32px;
  border: 1px solid var(--rule-strong);
  background: var(--card);
  color: var(--ink);
  font: 500 17px/1 var(--sans);
  cursor: pointer;
}
.zoom button + button {
  border-top: 0;
}
.zoom button:hover {
  background: var(--accent-soft);
}
</style>
