<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { at as address, byLink, type EntryCard } from '@/api/client'
import { day } from '@/composables/words'

const props = defineProps<{ entries: readonly EntryCard[]; at: number }>()
const emit = defineEmits<{ 'update:at': [at: number]; close: [] }>()
const { t, locale } = useI18n()
const entry = computed(() => props.entries[props.at])
const box = useTemplateRef<HTMLElement>('box')
function step(by: number): void {
  const next = props.at + by
  if (next >= 0 && next < props.entries.length) emit('update:at', next)
}
onMounted(() => box.value?.focus())
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'ArrowRight' || event.key === 'j') step(1)
  else if (event.key === 'ArrowLeft' || event.key === 'k') step(-1)
})
</script>

<template>
  <div
    v-if="entry"
    ref="box"
    class="table"
    role="dialog"
    aria-modal="true"
    :aria-label="entry.title"
    tabindex="-1"
    @click.self="emit('close')"
  >
    <button class="turn" :disabled="at === 0" :aria-label="t('names.previous')" @click="step(-1)">
      ‹
    </button>
    <figure @click.self="emit('close')">
      <img
        v-if="entry.picture"
        :key="entry.id"
        :src="address(`pictures/${entry.picture.digest}/1280`)"
        :alt="entry.title"
        :style="{
          backgroundImage: `url(${entry.picture.blur})`,
          aspectRatio: `${entry.picture.width} / ${entry.picture.height}`,
        }"
      />
      <figcaption>
        <b>{{ entry.title }}</b><span>{{
          [entry.moment ? day(entry.moment, locale) : '', entry.subtitle]
            .filter(Boolean)
            .join(' · ')
        }}</span
        ><RouterLink v-if="!byLink()" :to="`/catalog/entry/${entry.id}`">{{
          t('page.facts')
        }}</RouterLink>
      </figcaption>
    </figure>
    <button
      class="turn"
      :disabled="at === entries.length - 1"
      :aria-label="t('names.next')"
      @click="step(1)"
    >
      ›
    </button>
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
  background: #17140fee;
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
  padding: 24px 0;
}
img {
  max-width: 100%;
  max-height: calc(100vh - 90px);
  object-fit: contain;
  background-size: cover;
  border: 8px solid #fffdf7;
  border-radius: 2px;
  box-shadow: 0 6px 30px rgb(0 0 0 / 50%);
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
