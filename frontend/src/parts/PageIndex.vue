<script setup lang="ts">
/** The headings of a long page, in one line that stays: each leads to its place. */
import { useDebounceFn, useMutationObserver } from '@vueuse/core'
import { onMounted, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'

const props = defineProps<{ page: () => HTMLElement | null }>()
const { t } = useI18n()
const headings = shallowRef<{ text: string; element: HTMLElement }[]>([])
const GATHER_MS = 150
function read(): void {
  const found = [...(props.page()?.querySelectorAll<HTMLElement>('h1, h2') ?? [])]
  headings.value = found
    .map((element) => ({ text: element.textContent?.trim() ?? '', element }))
    .filter((one) => one.text)
}
const again = useDebounceFn(read, GATHER_MS)
onMounted(read)
useMutationObserver(() => props.page(), again, { childList: true, subtree: true })
function go(element: HTMLElement): void {
  element.scrollIntoView({ block: 'start' })
  element.tabIndex = -1
  element.focus({ preventScroll: true })
}
</script>

<template>
  <nav v-if="headings.length > 3" class="index" :aria-label="t('house.index')">
    <button v-for="one in headings" :key="one.text" @click="go(one.element)">{{ one.text }}</button>
  </nav>
</template>

<style scoped>
.index {
  position: sticky;
  top: 54px;
  z-index: 15;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 0 0 18px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
  background: var(--paper);
}
@media (max-width: 720px) {
  .index {
    flex-wrap: nowrap;
    padding-inline-end: 32px;
    overflow-x: auto;
    scrollbar-width: none;
    mask-image: linear-gradient(to left, transparent, black 32px);
  }
  .index:dir(rtl) {
    mask-image: linear-gradient(to right, transparent, black 32px);
  }
}
button {
  appearance: none;
  flex: none;
  padding: 2px 0;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
button:hover {
  color: var(--accent);
}
</style>
