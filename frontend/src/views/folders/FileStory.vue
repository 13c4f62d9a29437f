<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type FileItem } from '@/api/client'
import { bytes, clock } from '@/composables/words'
import MarkedName from '@/parts/MarkedName.vue'
import FileWays from './FileWays.vue'

const props = defineProps<{ file: FileItem }>()
const { t, te, locale } = useI18n()
const client = useQueryClient()
const lit = ref('')
const facts = computed(() => props.file.marks.filter((mark) => mark.field))
const letters = computed(() => Array.from(props.file.path))
const quote = (spans: number[][]) =>
  spans.map(([from, to]) => letters.value.slice(from, to).join('')).join(' … ')
const show = (value: unknown) =>
  Array.isArray(value)
    ? value.join(', ')
    : value !== null && typeof value === 'object'
      ? Object.entries(value)
          .map(([k, v]) => `${k} ${String(v)}`)
          .join(', ')
      : String(value)
interface Stream {
  codec?: string
  width?: number
  height?: number
  channels?: number
  language?: string | null
}
const mending = ref('')
const siblings = ref(false)
const mended = computed(() => facts.value.find((mark) => mark.field === mending.value))
const words = computed(() =>
  typeof mended.value?.value === 'string' ? mended.value.value.split(' ').filter(Boolean) : [],
)
const name = (field: string) => (te(`field.${field}`) ? t(`field.${field}`) : field)
watch(
  () => props.file.id,
  () => (mending.value = ''),
)
async function teach(action: 'drop' | 'cut', value: string | null): Promise<void> {
  try {
    await ask(
      api.POST('/api/files/{file_id}/corrections', {
        params: { path: { file_id: props.file.id } },
        body: { field: mending.value, action, value, siblings: siblings.value },
      }),
    )
    mending.value = ''
    ElMessage({ message: t('folders.taught'), type: 'success' })
    await client.invalidateQueries()
  } catch (reason) {
    ElMessage({ message: (reason as Error).message, type: 'warning' })
  }
}
const inside = computed(() => {
  const media = (props.file.media ?? {}) as {
    seconds?: number
    video?: Stream[]
    audio?: Stream[]
    subtitles?: Stream[]
    width?: number
    height?: number
    camera?: string
    taken?: string
    place?: number[]
    tags?: Record<string, unknown>
  }
  const rows: [string, string][] = [
    [t('page.disk'), bytes(props.file.size_bytes, String(locale.value))],
  ]
  if (media.seconds) rows.push([t('page.length'), clock(media.seconds)])
  if (media.video?.length)
    rows.push([
      t('page.picture'),
      media.video.map((v) => `${v.codec} ${v.width}×${v.height}`).join(', '),
    ])
  else if (media.width) rows.push([t('page.picture'), `${media.width}×${media.height}`])
  if (media.audio?.length)
    rows.push([
      t('page.sound'),
      media.audio
        .map((a) =>
          [a.codec, a.language, a.channels ? `${a.channels}ch` : ''].filter(Boolean).join(' '),
        )
        .join(', '),
    ])
  if (media.camera) rows.push([t('page.camera'), media.camera])
  if (media.taken) rows.push([t('field.taken'), media.taken.replace('T', ' ')])
  if (media.place) rows.push([t('page.place'), media.place.join(', ')])
  for (const [name, value] of Object.entries(media.tags ?? {}))
    rows.push([te(`field.${name}`) ? t(`field.${name}`) : name, show(value)])
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
            <template v-for="mark in facts" :key="mark.field">
              <tr @mouseenter="lit = mark.field" @mouseleave="lit = ''">
                <th>{{ te(`field.${mark.field}`) ? t(`field.${mark.field}`) : mark.field }}</th>
                <td class="value">{{ show(mark.value) }}</td>
                <td class="soft">
                  <q v-if="mark.spans.length" class="mono">{{ quote(mark.spans) }}</q>
                  {{ mark.rule }}
                </td>
                <td class="act">
                  <button
                    class="link"
                    :aria-expanded="mending === mark.field"
                    :data-test="`correct-${mark.field}`"
                    @click="mending = mending === mark.field ? '' : mark.field"
                  >
                    {{ t('folders.correct') }}
                  </button>
                </td>
              </tr>
              <tr v-if="mended && mending === mark.field" class="mend">
                <td colspan="4">
                  <button class="choice" data-test="drop" @click="teach('drop', null)">
                    {{ t('folders.notThis', { field: name(mended.field) }) }}
                  </button>
                  <span v-if="words.length > 1" class="ends"
                    >{{ t('folders.endsHere') }}
                    <button
                      v-for="(word, index) in words.slice(0, -1)"
                      :key="index"
                      class="choice mono"
                      @click="teach('cut', words.slice(index + 1).join(' '))"
                    >
                      {{ word }}
                    </button></span
                  >
                  <label class="all"
                    ><input v-model="siblings" type="checkbox" /> {{ t('folders.siblings') }}</label
                  >
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </div>
      <div>
        <p class="label">{{ t('folders.inside') }}</p>
        <table>
          <tbody>
            <tr v-for="[what, value] in inside" :key="what">
              <th>{{ what }}</th>
              <td>{{ value }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="file.entry_id">
          <RouterLink :to="`/catalog/entry/${file.entry_id}`"
            >{{ t('folders.openEntry') }}: {{ file.entry_title }}</RouterLink
          >
        </p>
      </div>
    </div>
    <FileWays :file-id="file.id" />
  </section>
</template>

<style scoped>
.story {
  margin-top: 14px;
  padding: 12px 16px 14px;
}
.path {
  margin: 0 0 12px;
  font-size: 13px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 8px 34px;
}
.label {
  margin: 0 0 4px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 13px;
}
tr {
  border-bottom: 1px solid var(--rule);
}
tr:last-child {
  border: 0;
}
th {
  text-align: start;
  font-weight: 400;
  color: var(--ink-soft);
  padding: 3px 14px 3px 0;
  white-space: nowrap;
  vertical-align: top;
  width: 1%;
}
td {
  padding: 3px 10px 3px 0;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.value {
  font-weight: 500;
  min-width: 80px;
}
.act {
  width: 1%;
  padding-inline-end: 0;
  white-space: nowrap;
}
.mend td {
  padding: 6px 0 8px;
}
.choice {
  appearance: none;
  border: 1px solid var(--rule-strong);
  background: var(--paper);
  border-radius: 3px;
  padding: 3px 8px;
  margin: 0 4px 4px 0;
  cursor: pointer;
}
.choice:hover {
  border-color: var(--accent);
  color: var(--accent);
}
.ends {
  margin-inline: 10px;
}
.all {
  white-space: nowrap;
}
q {
  quotes: auto;
  color: var(--ink);
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
