<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Mark } from '@/api/client'
import { markName } from '@/composables/words'

const props = defineProps<{ path: string; marks: readonly Mark[]; from?: number; lit?: string }>()
const { t, te } = useI18n()
const GROUPS: Record<string, string> = {
  title: 'title',
  series: 'title',
  artist: 'title',
  album: 'title',
  event: 'title',
  alt_title: 'title',
  album_artist: 'title',
  label: 'title',
  year: 'time',
  date: 'time',
  taken: 'time',
  season: 'number',
  episodes: 'number',
  absolute: 'number',
  track: 'number',
  disc: 'number',
  part: 'number',
  sequence: 'number',
  edition: 'note',
  version: 'note',
  ids: 'note',
  role: 'note',
  language: 'note',
  flags: 'note',
  marks: 'note',
  featuring: 'note',
  ignored: 'dropped',
}
const parts = computed(() => markName(props.path, props.marks, props.from ?? 0))
const name = (field: string) => (te(`field.${field}`) ? t(`field.${field}`) : field)
</script>

<template>
  <span class="name" translate="no"
    ><span
      v-for="(part, index) in parts"
      :key="index"
      :class="[
        part.field ? (GROUPS[part.field] ?? 'technical') : 'plain',
        { lit: lit && part.field === lit },
      ]"
      :title="part.field ? `${name(part.field)}${part.value ? ': ' + part.value : ''}` : undefined"
      >{{ part.text }}</span
    ></span
  >
</template>

<style scoped>
.name {
  font-family: var(--mono);
  font-size: 12.5px;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
.plain {
  color: var(--ink-faint);
}
.title {
  font-weight: 500;
  border-bottom: 2px solid var(--accent);
}
.time {
  border-bottom: 2px dotted var(--ochre);
  color: var(--ochre);
}
.number {
  border-bottom: 2px double var(--moss);
  color: var(--moss);
}
.note {
  border-bottom: 2px dashed var(--accent);
  color: var(--accent);
}
.technical {
  color: var(--ink-soft);
  border-bottom: 1px solid var(--rule-strong);
}
.dropped {
  color: var(--ink-faint);
  text-decoration: line-through;
}
.lit {
  background: var(--ochre-soft);
}
</style>
