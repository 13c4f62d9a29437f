<script setup lang="ts">
/** An album of photos: laid out in its order, put in another by dragging or Alt and the arrow keys; one opens large. */
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { Place } from '@/api/client'
import LightTable from '@/parts/LightTable.vue'
import ShotButton from '@/parts/ShotButton.vue'

const props = defineProps<{ places: readonly Place[]; isOwn: boolean }>()
const emit = defineEmits<{ drop: [place: Place]; move: [from: number, to: number] }>()
const { t } = useI18n()
const router = useRouter()
const held = ref<number>()
const opened = ref(-1)
const photos = computed(() =>
  props.places.map((one) => one.entry).filter((one) => one.kind === 'photo' && one.picture),
)
const ratio = ({ entry }: Place) =>
  entry.picture ? entry.picture.width / entry.picture.height : 1.5
function open({ entry }: Place): void {
  opened.value = photos.value.findIndex((one) => one.id === entry.id)
  if (opened.value < 0) void router.push(`/catalog/entry/${entry.id}`)
}
function lay(at: number): void {
  if (held.value !== undefined) emit('move', held.value, at)
  held.value = undefined
}
function key(event: KeyboardEvent, at: number): void {
  const step = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key]
  const shots = document.querySelectorAll<HTMLElement>('[data-place]')
  if (step && event.altKey) {
    event.preventDefault()
    if (props.isOwn) emit('move', at, at + step)
  } else if (step && event.key !== 'ArrowUp' && event.key !== 'ArrowDown') shots[at + step]?.focus()
  else if (event.key === 'Delete' && props.isOwn) emit('drop', props.places[at]!)
}
</script>

<template>
  <div>
    <ul class="album">
      <li
        v-for="(place, at) in places"
        :key="place.item_id"
        :draggable="isOwn"
        :class="{ held: held === at }"
        :style="{ flexGrow: ratio(place) * 100, flexBasis: `${ratio(place) * 160}px` }"
        @dragstart="held = at"
        @dragend="held = undefined"
        @dragover.prevent
        @drop.prevent="lay(at)"
      >
        <ShotButton
          :entry="place.entry"
          data-place
          :aria-description="isOwn ? t('lists.moveHow') : undefined"
          @click="open(place)"
          @keydown="key($event, at)"
        />
        <button
          v-if="isOwn"
          class="plain out"
          tabindex="-1"
          :aria-label="t('lists.out', { title: place.entry.title })"
          @click="emit('drop', place)"
        >
          ×
        </button>
      </li>
      <li class="filler" aria-hidden="true"></li>
    </ul>
    <LightTable v-if="opened >= 0" v-model:at="opened" :entries="photos" @close="opened = -1" />
  </div>
</template>

<style scoped>
.album {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  position: relative;
  min-width: 90px;
  max-width: 460px;
}
.filler {
  flex: 1000 0 0;
  min-width: 0;
  max-width: none;
}
.held {
  opacity: 0.45;
}
.shot {
  display: block;
  width: 100%;
}
.out {
  position: absolute;
  top: 5px;
  inset-inline-end: 5px;
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  padding: 0;
  border-radius: 50%;
  background: var(--card);
  color: var(--ink);
  opacity: 0;
}
li:hover .out,
li:focus-within .out {
  opacity: 1;
}
@media (hover: none) {
  .out {
    opacity: 1;
  }
}
</style>
