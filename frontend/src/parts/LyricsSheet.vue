<script setup lang="ts">
/** What the song sings, line by line; where its moments are known the line that is sung is marked, and stays in sight. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { lineAt } from '@/composables/lyrics'
import ProblemNote from './ProblemNote.vue'

const props = defineProps<{ entryId: number; title: string; now: number }>()
const emit = defineEmits<{ close: []; seek: [seconds: number] }>()
const HANDS_OFF_MS = 4000
const { t } = useI18n()
const client = useQueryClient()
const sheet = useTemplateRef<HTMLElement>('sheet')
const scroller = useTemplateRef<HTMLElement>('scroller')
const box = useTemplateRef<HTMLTextAreaElement>('box')
const draft = ref<string>()
const failed = ref<Error>()
const { data, error, isPending } = useQuery({
  queryKey: ['lyrics', () => props.entryId],
  queryFn: () =>
    ask(api.GET('/api/songs/{entry_id}/lyrics', { params: { path: { entry_id: props.entryId } } })),
})
const lines = computed(() => data.value?.lines ?? [])
const on = computed(() => (data.value?.is_timed ? lineAt(lines.value, props.now) : -1))
const moved = ref(0)

watch(
  () => [on.value, lines.value] as const,
  async ([at]) => {
    await nextTick()
    if (at < 0 || Date.now() - moved.value < HANDS_OFF_MS) return
    const isQuiet = matchMedia('(prefers-reduced-motion: reduce)').matches
    const line = scroller.value?.querySelectorAll('li')[at]
    line?.scrollIntoView?.({ block: 'center', behavior: isQuiet ? 'auto' : 'smooth' })
  },
)
watch(
  () => props.entryId,
  () => (draft.value = failed.value = undefined),
)
onMounted(() => sheet.value?.focus())

/** Open the text for writing, at its beginning. */
async function write(text: string): Promise<void> {
  draft.value = text
  await nextTick()
  box.value?.focus()
  box.value?.setSelectionRange(0, 0)
  box.value?.scrollTo?.(0, 0)
}
async function keep(value: string | null): Promise<void> {
  failed.value = undefined
  try {
    await ask(
      api.PUT('/api/entries/{entry_id}/facts/{field}', {
        params: { path: { entry_id: props.entryId, field: 'lyrics' } },
        body: { value },
      }),
    )
    draft.value = undefined
    await client.invalidateQueries()
  } catch (reason) {
    failed.value = reason as Error
  }
}
</script>

<template>
  <section
    ref="sheet"
    class="sheet above-player"
    tabindex="-1"
    :aria-label="t('lyrics.title')"
    data-test="lyrics"
    @keydown.esc.stop="emit('close')"
  >
    <header>
      <h2>{{ t('lyrics.title') }}</h2>
      <span class="soft of">{{ title }}</span>
      <button class="plain close" :aria-label="t('lyrics.hide')" @click="emit('close')">×</button>
    </header>
    <ProblemNote v-if="error" :error="error" class="note" />
    <form v-else-if="draft !== undefined" @submit.prevent="keep(draft.trim() || null)">
      <textarea
        ref="box"
        v-model="draft"
        rows="14"
        maxlength="20000"
        :aria-label="t('lyrics.title')"
        :placeholder="t('lyrics.how')"
        data-test="lyrics-text"
      ></textarea>
      <ProblemNote v-if="failed" :error="failed" />
      <p class="acts">
        <el-button type="primary" native-type="submit" data-test="lyrics-keep">{{
          t('page.keep')
        }}</el-button>
        <el-button @click="draft = undefined">{{ t('house.cancel') }}</el-button>
        <button v-if="data?.origin === 'hand'" class="link back" type="button" @click="keep(null)">
          {{ t('page.takeBack') }}
        </button>
      </p>
    </form>
    <template v-else>
      <ol
        v-if="lines.length"
        ref="scroller"
        :class="{ timed: data?.is_timed }"
        tabindex="0"
        :aria-label="title"
        @wheel.passive="moved = Date.now()"
        @touchmove.passive="moved = Date.now()"
      >
        <li
          v-for="(line, at) in lines"
          :key="at"
          :class="{ on: at === on, gap: !line.text }"
          :aria-current="at === on ? 'true' : undefined"
        >
          <button
            v-if="line.text && line.at_seconds != null"
            class="plain"
            dir="auto"
            @click="emit('seek', line.at_seconds)"
          >
            {{ line.text }}
          </button>
          <span v-else dir="auto">{{ line.text }}</span>
        </li>
      </ol>
      <p v-else-if="!isPending" class="soft note">{{ t('lyrics.none') }}</p>
      <footer v-if="data?.may_write">
        <button class="link" data-test="lyrics-write" @click="write(data.text)">
          {{ lines.length ? t('lyrics.change') : t('lyrics.write') }}
        </button>
        <span v-if="data.origin" class="faint">{{ t(`lyrics.from.${data.origin}`) }}</span>
      </footer>
    </template>
  </section>
</template>

<style scoped>
.sheet:focus {
  outline: none;
}
header {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 12px 16px 10px;
  border-bottom: 1px solid var(--rule);
}
h2 {
  margin: 0;
  font-size: 17px;
}
.of {
  overflow: hidden;
  font-size: 12.5px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.close {
  margin-inline-start: auto;
  font-size: 19px;
  color: var(--ink-faint);
}
ol {
  flex: 1;
  min-height: 120px;
  margin: 0;
  padding: 14px 16px 24px;
  overflow: auto;
  list-style: none;
  font-family: var(--serif);
  font-size: 16.5px;
  line-height: 1.5;
}
li {
  padding: 1px 0 1px 12px;
  border-inline-start: 3px solid transparent;
}
.timed li {
  color: var(--ink-soft);
}
.timed li.on {
  border-color: var(--accent);
  color: var(--ink);
  font-weight: 700;
}
li.gap {
  height: 14px;
}
li .plain {
  width: 100%;
  font: inherit;
  color: inherit;
  text-align: start;
}
li .plain:hover {
  color: var(--accent);
}
.note {
  margin: 14px 16px;
}
form {
  padding: 14px 16px;
}
textarea {
  width: 100%;
  padding: 8px 10px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--desk);
  color: var(--ink);
  font: 14px/1.5 var(--serif);
  resize: vertical;
}
.acts {
  display: flex;
  align-items: baseline;
  margin: 10px 0 0;
}
.back {
  margin-inline-start: auto;
}
footer {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  padding: 9px 16px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
</style>
