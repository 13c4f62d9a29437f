<script setup lang="ts">
import { computed, inject, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { EntryCard } from '@/api/client'
import { foldBursts, type Shown, withinBursts } from '@/composables/bursts'
import { PICKING } from '@/composables/usePicking'
import { day } from '@/composables/words'
import LightTable from '@/parts/LightTable.vue'

const props = defineProps<{
  entries: readonly EntryCard[]
  /** What the blocks above and below hold: a day goes on without a new heading, a burst lies in one of them. */
  above: readonly EntryCard[]
  below: readonly EntryCard[]
  /** All that is on the wall so far, for turning from picture to picture. */
  all: readonly EntryCard[]
}>()
const { t, locale } = useI18n()
const router = useRouter()
const at = ref(-1)
const picking = inject(PICKING, null)
const days = computed(() => {
  const found = new Map<string, EntryCard[]>()
  const shown = picking?.on.value
    ? props.entries
    : withinBursts(props.above, props.entries, props.below)
  for (const entry of shown) {
    const key = (entry.moment ?? '').slice(0, 10)
    found.set(key, [...(found.get(key) ?? []), entry])
  }
  return [...found].map(([date, entries]) => {
    const shots = entries.toSorted(
      (a, b) => (b.moment ?? '').localeCompare(a.moment ?? '') || b.id - a.id,
    )
    return {
      date,
      shots: picking?.on.value
        ? shots.map((best) => ({ best, frames: [best] }))
        : foldBursts(shots),
      events: [...new Set(shots.map((s) => s.subtitle).filter((s) => s && s !== date))],
    }
  })
})
const goesOnFrom = computed(() => {
  const last = props.above.at(-1)
  return last && (last.moment ?? '').slice(0, 10)
})
const ratio = (entry: EntryCard) =>
  entry.picture ? entry.picture.width / entry.picture.height : 1.5
const name = ({ best, frames }: Shown) =>
  [
    best.title,
    frames.length > 1 && t('catalog.burst', { n: frames.length }),
    best.moves && t('catalog.moves'),
  ]
    .filter(Boolean)
    .join(', ')
const isPicked = (entry: EntryCard) =>
  !!picking?.on.value && picking.picked.value.includes(entry.id)
function open(entry: EntryCard, event: MouseEvent): void {
  if (picking?.on.value) picking.pick(entry.id, event.shiftKey)
  else if (entry.kind === 'clip' || !entry.picture) void router.push(`/catalog/entry/${entry.id}`)
  else at.value = photos.value.findIndex((one) => one.id === entry.id)
}
const photos = computed(() => props.all.filter((e) => e.kind === 'photo' && e.picture))
</script>

<template>
  <div class="photos">
    <div class="days">
      <section v-for="(d, index) in days" :key="d.date">
        <h2 v-if="index > 0 || d.date !== goesOnFrom">
          {{ d.date ? day(d.date, locale) : t('catalog.undated')
          }}<span v-if="d.events.length" class="soft">{{ d.events.join(', ') }}</span>
        </h2>
        <div class="shots">
          <button
            v-for="{ best: shot, frames } in d.shots"
            :key="shot.id"
            class="plain shot"
            :class="{ picked: isPicked(shot), burst: frames.length > 1 }"
            :aria-pressed="picking?.on.value ? isPicked(shot) : undefined"
            :style="{
              flexGrow: ratio(shot) * 100,
              flexBasis: `${ratio(shot) * 150}px`,
              backgroundImage: shot.picture ? `url(${shot.picture.blur})` : undefined,
            }"
            :title="name({ best: shot, frames })"
            :aria-label="name({ best: shot, frames })"
            @click="open(shot, $event)"
          >
            <img
              v-if="shot.picture"
              :src="`/api/pictures/${shot.picture.digest}/480`"
              :alt="shot.title"
              loading="lazy"
              decoding="async"
              :style="{ aspectRatio: ratio(shot) }"
            />
            <span v-else class="blank mono">{{ shot.title }}</span>
            <span v-if="picking?.on.value" class="picktick" aria-hidden="true">{{
              isPicked(shot) ? '✓' : ''
            }}</span>
            <span v-if="frames.length > 1" class="frames mono" aria-hidden="true">{{
              frames.length
            }}</span>
            <span v-if="shot.kind === 'clip'" class="clip" aria-hidden="true">▶</span>
            <span v-else-if="shot.moves" class="moves" aria-hidden="true"></span>
          </button>
          <span class="filler"></span>
        </div>
      </section>
    </div>
    <LightTable v-if="at >= 0" v-model:at="at" :entries="photos" @close="at = -1" />
  </div>
</template>

<style scoped>
.picked,
.picked:hover {
  box-shadow: 0 0 0 3px var(--accent);
  z-index: 1;
}
section {
  scroll-margin-top: 120px;
  margin-bottom: 18px;
}
h2 {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  font-size: 15.5px;
  margin-bottom: 7px;
}
h2 .soft {
  font: 400 13.5px var(--sans);
}
.shots {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.shot {
  position: relative;
  height: auto;
  min-width: 90px;
  max-width: 460px;
  background: var(--desk) center / cover;
  border-radius: 2px;
  overflow: hidden;
}
.shot img {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.shot:hover {
  outline: 3px solid var(--card);
  box-shadow: var(--shadow);
}
.filler {
  flex: 100000 1 0;
}
.clip {
  position: absolute;
  left: 8px;
  bottom: 8px;
  width: 26px;
  height: 26px;
  display: grid;
  place-items: center;
  background: rgb(20 18 15 / 65%);
  color: #fffdf7;
  border-radius: 50%;
  font-size: 11px;
}
/* A thing that comes by: fainter, stronger, there. */
.moves {
  position: absolute;
  left: 8px;
  bottom: 8px;
  width: 26px;
  height: 20px;
  border-radius: 10px;
  background:
    linear-gradient(rgb(255 253 247 / 45%) 0 0) 6px 50% / 2px 8px no-repeat,
    linear-gradient(rgb(255 253 247 / 75%) 0 0) 11px 50% / 2px 8px no-repeat,
    linear-gradient(#fffdf7 0 0) 16px 50% / 4px 8px no-repeat,
    rgb(20 18 15 / 65%);
}
/* A burst lies like a small stack of prints. */
.burst {
  margin: 0 5px 5px 0;
  overflow: visible;
  box-shadow:
    2px 2px 0 var(--card),
    3px 3px 0 var(--rule-strong),
    5px 5px 0 var(--card),
    6px 6px 0 var(--rule-strong);
}
.frames {
  position: absolute;
  right: 6px;
  bottom: 6px;
  padding: 1px 6px;
  background: rgb(20 18 15 / 65%);
  color: #fffdf7;
  border-radius: 9px;
  font-size: 11px;
}
.blank {
  display: grid;
  place-items: center;
  height: 150px;
  padding: 10px;
  color: var(--ink-soft);
  font-size: 11px;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  .shot {
    min-width: 70px;
  }
}
</style>
