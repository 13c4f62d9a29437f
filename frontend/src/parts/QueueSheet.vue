<script setup lang="ts">
/** What plays after what: ordered by dragging and by keys, mixed, repeated, kept as a playlist. */
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { ElMessage } from 'element-plus'
import { useI18n } from 'vue-i18n'
import { useListing } from '@/composables/useLists'
import { isEvened } from '@/composables/useLoudness'
import { usePlayer } from '@/composables/usePlayer'
import { clock } from '@/composables/words'

const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const { queue, mix, turnRepeat, playAt, move, drop, clear } = usePlayer()
const rows = useTemplateRef<HTMLElement>('rows')
const held = ref<number>()
const over = ref<number>()
const naming = ref(false)
const name = ref('')
const length = computed(() => queue.value.songs.reduce((sum, song) => sum + (song.seconds ?? 0), 0))
const repeat = computed(() =>
  t(
    { none: 'queue.repeatNone', all: 'queue.repeatAll', one: 'queue.repeatOne' }[
      queue.value.repeat
    ],
  ),
)
const hasMore = computed(() => queue.value.place < queue.value.songs.length - 1)
const listing = useListing((said) => {
  naming.value = false
  ElMessage({ message: t('queue.saved', { name: said }), type: 'success' })
})
function row(at: number): HTMLElement | undefined {
  return rows.value?.querySelectorAll<HTMLElement>('li')[at]
}
function shift(from: number, to: number): void {
  move(from, to)
  void nextTick(() => row(to)?.focus())
}
function lay(at: number): void {
  if (held.value !== undefined) move(held.value, at)
  held.value = over.value = undefined
}
function take(at: number): void {
  drop(at)
  void nextTick(() => row(Math.min(at, queue.value.songs.length - 1))?.focus())
}
function key(event: KeyboardEvent, at: number): void {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (step) {
    event.preventDefault()
    if (event.altKey) shift(at, Math.min(Math.max(at + step, 0), queue.value.songs.length - 1))
    else row(at + step)?.focus()
  } else if (event.key === 'Delete') take(at)
  else if (event.key === 'Enter' && event.target === event.currentTarget) playAt(at)
}
function save(): void {
  const entryIds = queue.value.songs.map((song) => song.entryId)
  if (name.value.trim()) listing.mutate({ entryIds, name: name.value.trim() })
}
onMounted(() => {
  const current = row(queue.value.place)
  current?.scrollIntoView?.({ block: 'center' })
  current?.focus({ preventScroll: true })
})
</script>

<template>
  <section
    class="sheet above-player"
    :aria-label="t('queue.title')"
    data-test="queue"
    @keydown.esc.stop="emit('close')"
  >
    <header>
      <h2>{{ t('queue.title') }}</h2>
      <span class="soft">{{ t('queue.songs', queue.songs.length) }}, {{ clock(length) }}</span>
      <button class="plain close" :aria-label="t('queue.hide')" @click="emit('close')">×</button>
    </header>
    <p class="acts">
      <button class="pill" :aria-pressed="queue.shuffled" data-test="shuffle" @click="mix">
        <span aria-hidden="true">⇄</span> {{ t('queue.shuffle') }}
      </button>
      <button
        class="pill"
        :aria-pressed="queue.repeat !== 'none'"
        data-test="repeat"
        @click="turnRepeat"
      >
        <span aria-hidden="true">↻</span> {{ repeat }}
      </button>
      <button
        class="pill"
        :aria-pressed="isEvened"
        :title="t('queue.evenHow')"
        data-test="even"
        @click="isEvened = !isEvened"
      >
        <span aria-hidden="true">≈</span> {{ t('queue.even') }}
      </button>
    </p>
    <ol ref="rows">
      <li
        v-for="(song, at) in queue.songs"
        :key="song.key"
        draggable="true"
        tabindex="0"
        :class="{
          on: at === queue.place,
          heard: at < queue.place,
          held: held === at,
          over: over === at,
        }"
        :aria-label="`${at + 1}. ${song.label}`"
        :aria-current="at === queue.place ? 'true' : undefined"
        :aria-description="t('queue.how')"
        @keydown="key($event, at)"
        @dblclick="playAt(at)"
        @dragstart="held = at"
        @dragend="held = over = undefined"
        @dragover.prevent="over = at"
        @drop.prevent="lay(at)"
      >
        <button
          class="plain"
          tabindex="-1"
          :aria-label="`${t('page.play')}: ${song.label}`"
          @click="playAt(at)"
        >
          {{ at === queue.place ? '♪' : '▸' }}
        </button>
        <span class="what"
          ><b>{{ song.label }}</b
          ><span class="faint">{{ [song.by, song.from].filter(Boolean).join(', ') }}</span></span
        >
        <span class="mono faint">{{ song.seconds ? clock(song.seconds) : '' }}</span>
        <button
          class="plain out"
          tabindex="-1"
          :aria-label="t('queue.out', { title: song.label })"
          @click="take(at)"
        >
          ×
        </button>
      </li>
    </ol>
    <footer>
      <form v-if="naming" @submit.prevent="save">
        <input
          v-model="name"
          maxlength="120"
          autofocus
          :placeholder="t('queue.name')"
          :aria-label="t('queue.name')"
          data-test="queue-name"
        />
        <el-button native-type="submit" type="primary" :disabled="!name.trim()">{{
          t('page.keep')
        }}</el-button>
      </form>
      <template v-else>
        <button class="link" data-test="save-queue" @click="naming = true">
          {{ t('queue.save') }}
        </button>
        <button v-if="hasMore" class="link" @click="clear">{{ t('queue.clear') }}</button>
      </template>
    </footer>
  </section>
</template>

<style scoped>
header {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 12px 16px 0;
}
h2 {
  margin: 0;
  font-size: 17px;
}
header .soft {
  font-size: 12.5px;
}
.close {
  margin-inline-start: auto;
  font-size: 19px;
  color: var(--ink-faint);
}
.acts {
  display: flex;
  gap: 8px;
  margin: 9px 16px 10px;
}
ol {
  flex: 1;
  min-height: 60px;
  margin: 0;
  padding: 0;
  overflow: auto;
  list-style: none;
  border-block: 1px solid var(--rule);
}
li {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) auto 26px;
  gap: 0 8px;
  align-items: center;
  height: 44px;
  padding: 0 10px;
  border-bottom: 1px solid var(--rule);
  cursor: grab;
  content-visibility: auto;
  contain-intrinsic-size: auto 44px;
}
li:last-child {
  border: 0;
}
li:hover,
li:focus-visible {
  background: var(--accent-soft);
}
li.on {
  background: var(--moss-soft);
}
li.heard .what {
  opacity: 0.6;
}
li.held {
  opacity: 0.4;
}
li.over {
  box-shadow: inset 0 2px 0 var(--accent);
}
li button {
  height: 30px;
  text-align: center;
  color: var(--accent);
}
.out {
  font-size: 17px;
  color: var(--ink-faint);
}
.what {
  display: flex;
  flex-direction: column;
  line-height: 1.3;
  min-width: 0;
}
.what > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.what b {
  font-weight: 500;
}
.what .faint {
  font-size: 12.5px;
}
footer {
  display: flex;
  gap: 18px;
  padding: 10px 16px;
}
footer form {
  display: flex;
  gap: 8px;
  width: 100%;
}
footer input {
  flex: 1;
  min-width: 0;
  padding: 4px 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
</style>
