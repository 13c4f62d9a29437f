<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { FileItem } from '@/api/client'
import { bytes, clock } from '@/composables/words'
import MarkedName from '@/parts/MarkedName.vue'
import StateSign from '@/parts/StateSign.vue'

defineProps<{ files: readonly FileItem[] }>()
const { t, locale } = useI18n()
interface Media {
  seconds?: number
  video?: { codec: string; height: number }[]
  audio?: { codec: string; language?: string }[]
  width?: number
  height?: number
  camera?: string
}
function inside(file: FileItem): string {
  const media = (file.media ?? {}) as Media
  const sound = [...new Set((media.audio ?? []).map((a) => a.language).filter(Boolean))].join(', ')
  return [
    media.video?.[0]
      ? `${media.video[0].codec} ${media.video[0].height}p`
      : media.width
        ? `${media.width}×${media.height}`
        : media.audio?.[0]?.codec,
    sound,
    media.seconds ? clock(media.seconds) : '',
    media.camera,
    bytes(file.size_bytes, String(locale.value)),
  ]
    .filter(Boolean)
    .join(' · ')
}
</script>

<template>
  <section>
    <h2>{{ t('page.files') }}</h2>
    <ul class="card">
      <li v-for="file in files" :key="file.id">
        <StateSign :state="file.state === 'present' ? 'settled' : file.state" />
        <div>
          <RouterLink
            :to="{
              path: '/folders',
              query: { folder: file.folder_id, path: file.directory, file: file.id },
            }"
            class="name"
            ><MarkedName :path="file.path" :marks="file.marks"
          /></RouterLink>
          <span class="soft"
            >{{
              [
                t(`file.${file.kind}`),
                file.serves && file.serves !== 'main' && file.serves !== file.kind
                  ? t(`serves.${file.serves}`)
                  : '',
              ]
                .filter(Boolean)
                .join(', ')
            }}
            · {{ inside(file) }}</span
          >
          <span v-if="file.problem" class="problem">{{ file.problem }}</span>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-width: 860px;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
  gap: 8px;
  padding: 7px 12px;
  border-bottom: 1px solid var(--rule);
}
li:last-child {
  border: 0;
}
.name {
  color: inherit;
  display: block;
}
.name:hover {
  text-decoration: none;
  background: var(--accent-soft);
}
.soft {
  font-size: 12.5px;
}
.problem {
  display: block;
  color: var(--stamp);
  font-size: 12.5px;
}
</style>
