<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { FileItem } from '@/api/client'
import { bytes, clock } from '@/composables/words'
import MarkedName from '@/parts/MarkedName.vue'

const props = defineProps<{ file: FileItem }>()
const { t, te, locale } = useI18n()
const lit = ref('')
const facts = computed(() => props.file.marks.filter((mark) => mark.field))
const letters = computed(() => Array.from(props.file.path))
const quote = (spans: number[][]) => spans.map(([from, to]) => letters.value.slice(from, to).join('')).join(' … ')
const show = (value: unknown) => (Array.isArray(value) ? value.join(', ') : value !== null && typeof value === 'object' ? Object.entries(value).map(([k, v]) => `${k} ${String(v)}`).join(', ') : String(value))
interface Stream { codec?: string; width?: number; height?: number; channels?: number; language?: string | null }
const inside = computed(() => {
  const media = (props.file.media ?? {}) as { seconds?: number; video?: Stream[]; audio?: Stream[]; subtitles?: Stream[]; width?: number; height?: number; camera?: string; taken?: string; place?: number[]; tags?: Record<string, unknown> }
  const rows: [string, string][] = [[t('page.disk'), bytes(props.file.size_bytes, String(locale.value))]]
  if (media.seconds) rows.push([t('page.length'), clock(media.seconds)])
  if (media.video?.length) rows.push([t('page.picture'), media.video.map((v) => `${v.codec} ${v.width}×${v.height}`).join(', ')])
  else if (media.width) rows.push([t('page.picture'), `${media.width}×${media.height}`])
  if (media.audio?.length) rows.push([t('page.sound'), media.audio.map((a) => [a.codec, a.language, a.channels ? `${a.channels}ch` : ''].filter(Boolean).join(' ')).join(', ')])
  if (media.camera) rows.push([t('page.camera'), media.camera])
  if (media.taken) rows.push([t('field.taken'), media.taken.replace('T', ' ')])
  if (media.place) rows.push([t('page.place'), media.place.join(', ')])
  for (const [name, value] of Object.entries(media.tags ?? {})) rows.push([te(`field.${name}`) ? t(`field.${name}`) : name, show(value)])
  return rows
})
</script>

<template>
  <section class="card story" :aria-label="t('folders.story')">
    <p class="path"><MarkedName :path="file.path" :marks="file.marks" :lit="lit" /></p>
    <div class="columns">
      <div>
        <p class="label">{{ t('folders.readings') }}</p>
        <table>
          <tbody>
            <tr v-for="mark in facts" :key="mark.field" @mouseenter="lit = mark.field" @mouseleave="lit = ''">
              <th>{{ te(`field.${mark.field}`) ? t(`field.${mark.field}`) : mark.field }}</th>
              <td class="value">{{ show(mark.value) }}</td>
              <td class="soft"><q v-if="mark.spans.length" class="mono">{{ quote(mark.spans) }}</q> {{ mark.rule }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <div>
        <p class="label">{{ t('folders.inside') }}</p>
        <table><tbody><tr v-for="[what, value] in inside" :key="what"><th>{{ what }}</th><td>{{ value }}</td></tr></tbody></table>
        <p v-if="file.entry_id"><RouterLink :to="`/catalog/entry/${file.entry_id}`">{{ t('folders.openEntry') }}: {{ file.entry_title }}</RouterLink></p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.story { margin-top: 14px; padding: 12px 16px 14px; }
.path { margin: 0 0 12px; font-size: 13px; }
.columns { display: grid; grid-template-columns: minmax(0, 3fr) minmax(0, 2fr); gap: 8px 34px; }
.label { margin: 0 0 4px; }
table { border-collapse: collapse; width: 100%; font-size: 13px; }
tr { border-bottom: 1px solid var(--rule); }
tr:last-child { border: 0; }
th { text-align: start; font-weight: 400; color: var(--ink-soft); padding: 3px 14px 3px 0; white-space: nowrap; vertical-align: top; width: 1%; }
td { padding: 3px 10px 3px 0; vertical-align: top; overflow-wrap: anywhere; }
.value { font-weight: 500; min-width: 80px; }
q { quotes: '“' '”'; color: var(--ink); }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
</style>
