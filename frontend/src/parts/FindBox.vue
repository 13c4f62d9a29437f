<script setup lang="ts">
import { onClickOutside, refDebounced } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { useFind } from '@/composables/useFind'
import CoverImage from './CoverImage.vue'
import FilterOffers from './FilterOffers.vue'

const props = defineProps<{ places: readonly string[] }>()
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
const { rows: found, isFetching } = useFind(settled, () => props.places)
/** Filters that go on from what is being typed: shown where nothing was typed, or a key is begun. */
const offers = computed(() => {
  const last = words.value.split(/\s+/).at(-1)?.toLowerCase() ?? ''
  if (!words.value.trim()) return FILTERS.filter((one) => !one.endsWith(':'))
  return last.length > 1 ? FILTERS.filter((one) => one.startsWith(last) && one !== last) : []
})
function take(filter: string): void {
  const before = words.value.replace(/\S*$/, '')
  words.value = `${before}${filter}${filter.endsWith(':') ? '' : ' '}`
  input.value?.focus()
}
watch(found, () => (at.value = 0))
onClickOutside(box, () => (opened.value = false))

function open(): void {
  input.value?.focus()
  input.value?.select()
  opened.value = true
}
function go(index: number): void {
  const row = found.value[index]
  if (!row) return
  opened.value = false
  input.value?.blur()
  void router.push(row.to)
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
        v-for="(row, index) in found"
        :id="`found-${index}`"
        :key="row.key"
        role="option"
        :aria-selected="index === at"
        :class="{ at: index === at }"
        @mousedown.prevent="go(index)"
        @mousemove="at = index"
      >
        <CoverImage
          v-if="row.entry"
          :picture="row.entry.picture"
          :title="row.title"
          :kind="row.entry.kind"
          :size="240"
          class="tiny"
        />
        <span v-else class="tiny way" aria-hidden="true">→</span>
        <span class="title"
          >{{ row.title
          }}<span v-if="row.sung" class="sung soft" dir="auto">{{ row.sung }}</span></span
        >
        <span class="faint">{{ row.note }}</span>
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
.way {
  display: grid;
  place-items: center;
  color: var(--ink-faint);
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
