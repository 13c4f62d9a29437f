<script setup lang="ts">
/** Pictures large, one after the other: by keys, by themselves, as near as to their pixels, with what is known of them. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, at as address, byLink, type EntryCard } from '@/api/client'
import { isTyping } from '@/composables/useKeys'
import { useMarks } from '@/composables/useMarks'
import { useSlides } from '@/composables/useSlides'
import { day } from '@/composables/words'
import LightFacts from './LightFacts.vue'
import MovingShot from './MovingShot.vue'

const props = defineProps<{ entries: readonly EntryCard[]; at: number }>()
const emit = defineEmits<{ 'update:at': [at: number]; close: [] }>()
const { t, locale } = useI18n()
const entry = computed(() => props.entries[props.at])
const box = useTemplateRef<HTMLElement>('box')
const large = (one?: EntryCard) =>
  one?.picture ? address(`pictures/${one.picture.digest}/1280`) : undefined
const isNear = ref(false)
const isTold = ref(false)
const quarters = ref(0)
/** Whether the moments around the picture are playing. */
const isMoving = ref(false)
const marking = useMarks()
/** Marked here; the list that this came from may be an older answer. */
const fond = ref<Record<number, boolean>>({})
const isFond = computed(
  () => !!entry.value && (fond.value[entry.value.id] ?? entry.value.mark?.favourite ?? false),
)
const { data: page } = useQuery({
  queryKey: ['entry', () => entry.value?.id],
  queryFn: () =>
    ask(
      api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: entry.value?.id ?? 0 } } }),
    ),
  enabled: () => !byLink() && !!entry.value && (isNear.value || isTold.value),
})
const here = computed(() => (page.value?.card.id === entry.value?.id ? page.value : undefined))
/** From near the file itself, as soon as it is known and where browsers show such files. */
const source = computed(() => {
  const file = isNear.value ? here.value?.shot?.file_id : undefined
  return file ? address(`files/${file}/content`) : large(entry.value)
})
/** A day by itself is no occasion: it is said already. */
const occasion = computed(() => {
  const { subtitle, moment } = entry.value ?? {}
  return subtitle && !moment?.startsWith(subtitle) ? subtitle : ''
})
function step(by: number): boolean {
  const next = props.at + by
  if (next < 0 || next >= props.entries.length) return false
  emit('update:at', next)
  return true
}
const slides = useSlides(
  () => step(1),
  () => large(props.entries[props.at + 1]),
)
watch(
  () => props.at,
  () => {
    isNear.value = false
    isMoving.value = false
    quarters.value = 0
  },
)
function turn(by: 1 | -1): void {
  step(by)
  slides.again()
}
function move(): void {
  if (!entry.value?.moves) return
  isMoving.value = !isMoving.value
  isNear.value = false
  quarters.value = 0
}
function rotate(): void {
  quarters.value += 1
  isMoving.value = false
}
function love(): void {
  const one = entry.value
  if (!one || byLink()) return
  const favourite = !isFond.value
  fond.value = { ...fond.value, [one.id]: favourite }
  marking.mutate({ entry_ids: [one.id], favourite })
}
const before = document.activeElement
onMounted(() => box.value?.focus())
onBeforeUnmount(() => before instanceof HTMLElement && before.focus({ preventScroll: true }))
const keys: Record<string, () => unknown> = {
  Escape: () => (isNear.value ? (isNear.value = false) : emit('close')),
  ArrowRight: () => turn(1),
  j: () => turn(1),
  ArrowLeft: () => turn(-1),
  k: () => turn(-1),
  ' ': slides.toggle,
  z: () => (isNear.value = !isNear.value),
  r: rotate,
  m: move,
  i: () => !byLink() && (isTold.value = !isTold.value),
  f: love,
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
  // What has the focus inside has the arrows to look around with from near, and Space to be pressed with.
  if (isNear.value && event.key.startsWith('Arrow')) return
  if (event.key === ' ' && event.target !== box.value && event.target !== document.body) return
  const act = keys[event.key]
  if (!act) return
  event.preventDefault()
  act()
})
/** From near a picture is looked at by dragging it. */
function drag(event: PointerEvent): void {
  const pane = event.currentTarget as HTMLElement
  if (!isNear.value || !(event.buttons & 1)) return
  pane.scrollBy(-event.movementX, -event.movementY)
}
</script>

<template>
  <div
    v-if="entry"
    ref="box"
    class="table"
    :class="{ told: isTold && here }"
    role="dialog"
    aria-modal="true"
    :aria-label="entry.title"
    tabindex="-1"
    @click.self="emit('close')"
  >
    <button class="turn" :disabled="at === 0" :aria-label="t('player.previous')" @click="turn(-1)">
      ‹
    </button>
    <figure @click.self="emit('close')">
      <div
        class="pane"
        :class="{ near: isNear }"
        :tabindex="isNear ? 0 : undefined"
        @pointermove="drag"
        @click.self="emit('close')"
      >
        <img
          v-if="entry.picture"
          :key="entry.id"
          :src="source"
          :alt="entry.title"
          draggable="false"
          :class="{ lying: quarters % 2 }"
          :style="{
            backgroundImage: `url(${entry.picture.blur})`,
            aspectRatio: isNear ? undefined : `${entry.picture.width} / ${entry.picture.height}`,
            rotate: quarters ? `${quarters * 90}deg` : undefined,
          }"
          @dblclick="isNear = !isNear"
        />
        <MovingShot
          v-if="isMoving && !isNear"
          :key="entry.id"
          :entry-id="entry.id"
          :label="entry.title"
          @over="isMoving = false"
        />
      </div>
      <figcaption>
        <b>{{ entry.title }}</b><span>{{
          [entry.moment ? day(entry.moment, locale) : '', occasion].filter(Boolean).join(' · ')
        }}</span
        ><RouterLink v-if="!byLink()" :to="`/catalog/entry/${entry.id}`">{{
          t('page.facts')
        }}</RouterLink>
      </figcaption>
    </figure>
    <button
      class="turn"
      :disabled="at === entries.length - 1"
      :aria-label="t('player.next')"
      @click="turn(1)"
    >
      ›
    </button>
    <div class="acts" role="toolbar" :aria-label="t('light.acts')">
      <button
        v-if="entries.length > 1"
        :aria-pressed="slides.isOn.value"
        data-test="slides"
        @click="slides.toggle"
      >
        {{ slides.isOn.value ? '❚❚' : '▶' }} {{ t('light.slides') }}
        <kbd>{{ t('light.space') }}</kbd>
      </button>
      <button :aria-pressed="isNear" data-test="near" @click="isNear = !isNear">
        {{ t('light.near') }} <kbd>z</kbd>
      </button>
      <button v-if="entry.moves" :aria-pressed="isMoving" data-test="move" @click="move">
        {{ t('light.move') }} <kbd>m</kbd>
      </button>
      <button @click="rotate">{{ t('light.turn') }} <kbd>r</kbd></button>
      <template v-if="!byLink()">
        <button :aria-pressed="isFond" data-test="fond" @click="love">
          {{ isFond ? '♥' : '♡' }} {{ t('marks.favourite') }} <kbd>f</kbd>
        </button>
        <button :aria-pressed="isTold" data-test="told" @click="isTold = !isTold">
          {{ t('light.facts') }} <kbd>i</kbd>
        </button>
      </template>
      <span class="mono">{{ at + 1 }}/{{ entries.length }}</span>
    </div>
    <LightFacts v-if="isTold && here" :entry="here" />
    <button class="shut" :aria-label="t('app.close')" @click="emit('close')">✕</button>
  </div>
</template>

<style scoped>
.table {
  position: fixed;
  inset: 0;
  z-index: 50;
  display: grid;
  grid-template-columns: 64px 1fr 64px;
  align-items: center;
  background: #17140ff8;
  color: #f6f3ea;
  outline: 0;
}
figure {
  margin: 0;
  height: 100vh;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 12px;
  min-width: 0;
  padding: 56px 0 20px;
}
.pane {
  position: relative;
  display: grid;
  place-items: center;
  min-width: 0;
  max-width: 100%;
}
.told {
  padding-inline-end: 270px;
}
.near {
  place-items: safe center;
  width: calc(100vw - 140px);
  height: calc(100vh - 150px);
  overflow: auto;
  cursor: grab;
  touch-action: pan-x pan-y;
}
.near img {
  max-width: none;
  max-height: none;
  border: 0;
}
.lying:not(.near *) {
  max-width: calc(100vh - 150px);
  max-height: calc(100vw - 150px);
}
.acts {
  position: absolute;
  top: 14px;
  inset-inline-start: 20px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  max-width: calc(100% - 90px);
}
.acts button {
  appearance: none;
  padding: 4px 0;
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  color: #d9d2c0;
  font: 13.5px var(--sans);
  cursor: pointer;
}
.acts button:hover {
  color: #fffdf7;
}
.acts [aria-pressed='true'] {
  border-color: #8fd0cf;
  color: #fffdf7;
}
.acts kbd {
  margin-inline-start: 2px;
  padding: 0 4px;
  background: none;
  border: 1px solid #5d5443;
  color: #b9b09b;
  font-size: 11px;
}
.acts .mono {
  color: #b9b09b;
  font-size: 12px;
}
.told .near {
  width: calc(100vw - 410px);
}
@media (max-width: 760px) {
  .told {
    padding-inline-end: 0;
  }
  .acts kbd {
    display: none;
  }
  .near,
  .told .near {
    width: 100vw;
  }
}
img {
  max-width: 100%;
  max-height: calc(100vh - 150px);
  object-fit: contain;
  background-size: cover;
  border: 8px solid #fffdf7;
  border-radius: 2px;
  box-shadow: 0 6px 30px rgb(0 0 0 / 50%);
}
/* It lies on the print, within its edge. */
video {
  position: absolute;
  inset: 8px;
  width: calc(100% - 16px);
  height: calc(100% - 16px);
  object-fit: cover;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  color: #d9d2c0;
  font-family: var(--sans);
}
figcaption b {
  color: #fffdf7;
  font-weight: 500;
}
figcaption a {
  color: #8fd0cf;
}
.turn,
.shut {
  appearance: none;
  background: none;
  border: 0;
  color: #f6f3ea;
  font: 40px/1 var(--serif);
  cursor: pointer;
  height: 50vh;
}
.turn:disabled {
  opacity: 0.2;
  cursor: default;
}
.shut {
  position: absolute;
  top: 14px;
  right: 18px;
  height: 36px;
  width: 36px;
  font-size: 18px;
}
</style>
