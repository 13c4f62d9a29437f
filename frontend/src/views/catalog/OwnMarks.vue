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
