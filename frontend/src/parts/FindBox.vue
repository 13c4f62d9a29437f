<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { onClickOutside, refDebounced } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import CoverImage from './CoverImage.vue'
import FilterOffers from './FilterOffers.vue'

const TYPING_MS = 120
const { t } = useI18n()
const router = useRouter()
const input = useTemplateRef<HTMLInputElement>('input')
const box = useTemplateRef<HTMLElement>('box')
const FILTERS = t('find.filters').split(' ')
const words = ref('')
const settled = refDebounced(words, TYPING_MS)
const opened = ref(false)
const at = ref(0)
const { data, isFetching } = useQuery({
  queryKey: ['find', settled],
  queryFn: () => ask(api.GET('/api/search', { params: { query: { q: settled.value } } })),
  enabled: () => settled.value.trim().length > 0,
  placeholderData: (before) => before,
})
/** Filters that go on from what is being typed: shown where nothing was typed, or a key is begun. */
const offers = computed(() => {
  const last = words.value.split(/\s+/).at(-1)?.toLowerCase() ?? ''
  if (!words.value.trim()) return FILTERS
  return last.length > 1 ? FILTERS.filter((one) => one.startsWith(last) && one !== last) : []
})
function take(filter: string): void {
  const before = words.value.replace(/\S*$/, '')
  words.value = `${before}${filter} `
  input.value?.focus()
}
const found = computed(() => (words.value.trim() ? (data.value?.entries ?? []) : []))
watch(found, () => (at.value = 0))
onClickOutside(box, () => (opened.value = false))

function open(): void {
  input.value?.focus()
  input.value?.select()
  opened.value = true
}
function go(index: number): void {
  const entry = found.value[index]
  if (!entry) return
  opened.value = false
  input.value?.blur()
  void router.push(`/catalog/entry/${entry.id}`)
}
function key(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown') at.value = Math.min(at.value + 1, found.value.length - 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(at.value - 1, 0)
  else if (event.key === 'Enter') go(at.value)
  else if (event.key === 'Escape') {
    opened.value = false
    input.value?.blur()
  } else return
  event.preventDefault()
}
defineExpose({ open })
</script>

<template>
  <div ref="box" class="find" role="search">
    <input
      ref="input"
      v-model="words"
      type="search"
      role="combobox"
      :placeholder="t('app.find')"
      :aria-label="t('app.find')"
      aria-controls="found"
      :aria-expanded="opened && found.length > 0"
      :aria-activedescendant="opened && found.length ? `found-${at}` : undefined"
      autocomplete="off"
      @focus="opened = true"
      @input="opened = true"
      @keydown="key"
    />
    <kbd>Ctrl K</kbd>
    <div v-if="opened && !words.trim()" class="card hints" data-test="filter-hints">
      <p class="soft">{{ t('find.how') }}</p>
      <p>
        <FilterOffers :offers="offers" @take="take" />
      </p>
    </div>
    <ul v-if="opened && words.trim()" id="found" role="listbox" class="card">
      <li
        v-for="(entry, index) in found"
        :id="`found-${index}`"
        :key="entry.id"
        role="option"
        :aria-selected="index === at"
        :class="{ at: index === at }"
        @mousedown.prevent="go(index)"
        @mousemove="at = index"
      >
        <CoverImage
          :picture="entry.picture"
          :title="entry.title"
          :kind="entry.kind"
          :size="240"
          class="tiny"
        />
        <span class="title"
          >{{ entry.title
          }}<span v-if="data?.lines?.[entry.id]" class="sung soft" dir="auto">{{
            data.lines[entry.id]
          }}</span></span
        >
        <span class="faint">{{
          [t(`entry.${entry.kind}`), entry.year ?? entry.subtitle].filter(Boolean).join(', ')
        }}</span>
      </li>
      <li v-if="offers.length" class="none">
        <FilterOffers :offers="offers" @take="take" />
      </li>
      <li v-if="!found.length && !isFetching" class="none soft">{{ t('app.nothingFound') }}</li>
    </ul>
  </div>
</template>

<style scoped>
.find {
  position: relative;
  align-self: center;
  width: 270px;
  flex: none;
}
input {
  width: 100%;
  height: 32px;
  padding: 0 62px 0 11px;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
input::-webkit-search-cancel-button {
  display: none;
}
input::placeholder {
  color: var(--ink-faint);
}
kbd {
  position: absolute;
  right: 8px;
  top: 7px;
  pointer-events: none;
}
ul {
  position: absolute;
  right: 0;
  top: 37px;
  width: 400px;
  max-width: 94vw;
  max-height: 70vh;
  overflow: auto;
  margin: 0;
  padding: 4px;
  list-style: none;
  box-shadow: var(--shadow);
  z-index: 50;
}
.hints {
  position: absolute;
  right: 0;
  top: 37px;
  width: 400px;
  max-width: 94vw;
  padding: 10px 12px 12px;
  box-shadow: var(--shadow);
  z-index: 50;
}
.hints p {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0 0 8px;
  font-size: 13px;
}
.hints p:last-child {
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 26px 1fr auto;
  gap: 10px;
  align-items: center;
  padding: 4px 8px;
  border-radius: 3px;
  cursor: pointer;
}
li.at {
  background: var(--accent-soft);
}
.title {
  font-weight: 500;
  overflow-wrap: anywhere;
}
.sung {
  display: block;
  font: italic 400 13px/1.35 var(--serif);
}
.none {
  display: block;
  padding: 8px;
  cursor: default;
}
.tiny {
  width: 26px;
  height: 34px;
}
@media (max-width: 760px) {
  .find {
    flex: 1;
    width: auto;
  }
  kbd {
    display: none;
  }
}
</style>
