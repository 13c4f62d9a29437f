<script setup lang="ts">
/** One's own rating and tags of a thing. */
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard } from '@/api/client'
import { useMarks } from '@/composables/useMarks'

const props = defineProps<{ card: EntryCard }>()
const { t } = useI18n()
const marking = useMarks()
const fresh = ref('')
function tag(tags: string[]): void {
  marking.mutate({ entry_ids: [props.card.id], tags })
}
const writing = ref(false)
const note = ref('')
function write(): void {
  note.value = props.card.mark?.note ?? ''
  writing.value = true
}
function keep(): void {
  marking.mutate({ entry_ids: [props.card.id], note: note.value })
  writing.value = false
}
function add(): void {
  const name = fresh.value.trim()
  if (name) tag([...(props.card.mark?.tags ?? []), name])
  fresh.value = ''
}
</script>

<template>
  <span class="own">
    <label class="rating"
      >{{ t('marks.rating') }}
      <select
        :value="card.mark?.rating ?? 0"
        data-test="rating"
        @change="
          marking.mutate({
            entry_ids: [card.id],
            rating: Number(($event.target as HTMLSelectElement).value),
          })
        "
      >
        <option :value="0">–</option>
        <option v-for="step in 10" :key="step" :value="step">{{ step }} / 10</option>
      </select></label
    >
    <span v-for="name in card.mark?.tags ?? []" :key="name" class="tag"
      >{{ name
      }}<button
        :aria-label="t('marks.untag', { name })"
        @click="tag((card.mark?.tags ?? []).filter((one) => one !== name))"
      >
        ×
      </button></span
    >
    <form @submit.prevent="add">
      <input
        v-model="fresh"
        maxlength="60"
        :placeholder="t('marks.tag')"
        :aria-label="t('marks.tag')"
        data-test="tag"
      />
    </form>
    <button v-if="!writing && !card.mark?.note" class="link" data-test="note" @click="write">
      {{ t('marks.writeNote') }}
    </button>
    <form v-if="writing" class="note" @submit.prevent="keep" @keydown.esc="writing = false">
      <textarea
        v-model="note"
        maxlength="4000"
        rows="3"
        autofocus
        :placeholder="t('marks.noteHow')"
        :aria-label="t('marks.note')"
        data-test="note-text"
        @keydown.ctrl.enter="keep"
      ></textarea>
      <span>
        <el-button native-type="submit" size="small" type="primary">{{ t('page.keep') }}</el-button>
        <button type="button" class="link" @click="writing = false">{{ t('house.cancel') }}</button>
      </span>
    </form>
    <button
      v-else-if="card.mark?.note"
      class="plain said"
      :title="t('marks.changeNote')"
      @click="write"
    >
      {{ card.mark.note }}
    </button>
  </span>
</template>

<style scoped>
.own {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  font-size: 13px;
  color: var(--ink-soft);
}
select,
input {
  height: 28px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: none;
  color: var(--ink);
  font: inherit;
}
input {
  width: 96px;
  padding: 0 8px;
}
.tag {
  display: inline-flex;
  align-items: center;
  padding: 3px 4px 3px 9px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
}
.note {
  display: grid;
  flex-basis: 100%;
  gap: 6px;
  max-width: 66ch;
}
textarea {
  width: 100%;
  padding: 6px 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
  resize: vertical;
}
.note span {
  display: flex;
  gap: 14px;
  align-items: center;
}
.said {
  flex-basis: 100%;
  max-width: 66ch;
  padding: 5px 0 5px 11px;
  border-inline-start: 3px solid var(--ochre-soft);
  color: var(--ink);
  font: italic 14px/1.5 var(--serif);
  text-align: start;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.tag button {
  appearance: none;
  margin-inline-start: 3px;
  padding: 0 5px;
  border: 0;
  background: none;
  color: var(--ink-faint);
  cursor: pointer;
}
</style>
