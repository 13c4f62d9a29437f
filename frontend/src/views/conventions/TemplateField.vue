<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'

const FITTING: Record<string, string[]> = {
  movie: [
    'title',
    'year',
    'label',
    'edition',
    'version',
    'part',
    'resolution',
    'source',
    'video_codec',
    'languages',
  ],
  episode: [
    'series',
    'year',
    'season',
    'mark',
    'number',
    'last',
    'title',
    'label',
    'part',
    'resolution',
  ],
  dated: ['series', 'year', 'date', 'title', 'label'],
  running: ['series', 'year', 'running', 'title', 'label'],
  track: ['artist', 'album_artist', 'album', 'year', 'disc', 'track', 'title', 'guests', 'edition'],
  photo: ['year', 'month', 'day', 'folder_day', 'stamp', 'event', 'sequence', 'title', 'original'],
  subtitle: ['main', 'language', 'flags', 'original'],
  extra: ['home', 'main', 'role_folder', 'role_word', 'label', 'original'],
  artwork: ['home', 'main', 'role', 'original'],
  lyrics: ['main', 'original'],
}
const ALIKE: Record<string, string> = { special: 'episode', compilation: 'track', clip: 'photo' }
const model = defineModel<string | undefined>({ required: true })
const props = defineProps<{
  slotName: string
  problem?: { message: string; line: number }
  samples: { before: string; after: string }[]
  values: string[]
  filters: string[]
}>()
const { t } = useI18n()
const field = ref<HTMLTextAreaElement>()
const open = ref(false)
const chips = computed(() => {
  const fitting = FITTING[ALIKE[props.slotName] ?? props.slotName] ?? []
  return fitting.filter((name) => props.values.includes(name))
})
async function put(text: string): Promise<void> {
  const area = field.value
  const [start, end] = area ? [area.selectionStart, area.selectionEnd] : [0, 0]
  const was = model.value ?? ''
  model.value = was.slice(0, start) + text + was.slice(end)
  await nextTick()
  area?.focus()
  area?.setSelectionRange(start + text.length, start + text.length)
}
</script>

<template>
  <div class="template" :class="{ wrong: problem }">
    <label :for="`template-${slotName}`">{{ t(`convention.slot.${slotName}`) }}</label>
    <div class="body">
      <textarea
        :id="`template-${slotName}`"
        ref="field"
        v-model="model"
        class="mono"
        rows="2"
        spellcheck="false"
        :aria-invalid="!!problem"
        @focus="open = true"
      ></textarea>
      <div v-if="open" class="chips">
        <button
          v-for="chip in chips"
          :key="chip"
          class="chip mono"
          :title="t(`convention.value.${chip}`)"
          @click="put(`{{ ${chip} }}`)"
        >
          {{ chip }}
        </button>
        <span class="gap"></span>
        <button
          v-for="filter in filters"
          :key="filter"
          class="chip mono filter"
          :title="t(`convention.filter.${filter.replace(/\W.*/, '')}`)"
          @click="put(` | ${filter}`)"
        >
          {{ filter }}
        </button>
      </div>
      <p v-if="problem" class="bad" role="alert">
        {{ problem.line > 1 ? t('convention.line', { line: problem.line }) : '' }}
        {{ problem.message }}
      </p>
      <p v-for="sample in samples" v-else :key="sample.before + sample.after" class="sample mono">
        <span v-if="sample.before" class="faint">{{ sample.before }}</span><span>{{
          sample.after
        }}</span>
      </p>
    </div>
  </div>
</template>

<style scoped>
.template {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 4px 18px;
  padding: 8px 14px;
  border-bottom: 1px solid var(--rule);
}
.template:last-child {
  border: 0;
}
label {
  font-weight: 500;
  padding-top: 4px;
}
textarea {
  width: 100%;
  font-size: 12.5px;
  line-height: 1.45;
  padding: 4px 7px;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 3px;
  resize: vertical;
  field-sizing: content;
}
.wrong textarea {
  border-color: var(--stamp);
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 3px 0 5px;
}
.gap {
  width: 10px;
}
.chip {
  font-size: 11.5px;
  padding: 1px 7px;
  border: 1px solid var(--rule-strong);
  border-radius: 10px;
  background: var(--card);
  color: var(--accent);
  cursor: pointer;
}
.chip:hover {
  background: var(--accent-soft);
}
.filter {
  border-style: dashed;
  color: var(--ink-soft);
}
.sample {
  display: flex;
  flex-direction: column;
  margin: 2px 0;
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.bad {
  margin: 2px 0;
  color: var(--stamp);
}
@media (max-width: 860px) {
  .template {
    grid-template-columns: 1fr;
  }
}
</style>
