<script setup lang="ts">
/** Below the household's face: versions, extras, and what is related, with the reason. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Entry } from '@/api/client'
import { lasts } from '@/composables/words'
import EntryTile from '@/parts/EntryTile.vue'

const props = defineProps<{ entry: Entry }>()
const { t, locale } = useI18n()
type Version = Entry['versions'][number]
const CODECS: Record<string, string> = {
  h264: 'H.264',
  hevc: 'HEVC',
  av1: 'AV1',
  vp9: 'VP9',
  mpeg2video: 'MPEG-2',
  mpeg4: 'MPEG-4',
}
const LAYOUTS: Record<number, string> = { 1: 'mono', 2: 'stereo', 6: '5.1', 7: '6.1', 8: '7.1' }
const names = computed(() => new Intl.DisplayNames([locale.value], { type: 'language' }))
function language(code: string): string {
  try {
    return names.value.of(code) ?? code
  } catch {
    return code
  }
}
const title = (one: Version) =>
  [one.part ? t('page.part', { n: one.part }) : '', one.edition, one.height ? `${one.height}p` : '']
    .filter(Boolean)
    .join(', ')
const said = (one: Version) =>
  [
    CODECS[one.codec] ?? one.codec.toUpperCase(),
    one.hdr ? 'HDR' : '',
    ...one.sounds.map((sound) =>
      [sound.language ? language(sound.language) : '', LAYOUTS[sound.channels] ?? '']
        .filter(Boolean)
        .join(' '),
    ),
  ]
    .filter(Boolean)
    .join(', ')
const texts = (one: Version) =>
  one.texts.length ? t('page.texts', { languages: one.texts.map(language).join(', ') }) : ''
const known = computed(() => {
  const fact = props.entry.facts.find((one) => one.field === 'runtime')
  return lasts(Number(fact?.value ?? 0), t)
})
/** Said of a version where it is not what is said above of the work already. */
function length(one: Version): string {
  const told = lasts(one.seconds ?? 0, t)
  return told === known.value && versions.value.length === 1 ? '' : told
}
const versions = computed(() => (props.entry.card.kind === 'photo' ? [] : props.entry.versions))
const extras = computed(() => props.entry.plays.filter((one) => one.extra))
const why = (related: Entry['related'][number]) =>
  [...new Set(related.why.map((one) => one.name))].slice(0, 2).join(', ')
</script>

<template>
  <div v-if="versions.length || extras.length || entry.related.length" class="more">
    <section v-if="versions.length || extras.length">
      <template v-if="versions.length">
        <h2>{{ t('page.versions', versions.length) }}</h2>
        <p v-for="one in versions" :key="one.file_id" class="row">
          <RouterLink
            class="title"
            :to="`/play/${entry.card.id}?file=${one.file_id}`"
            :class="{ away: !one.is_there }"
            >{{ title(one) || t('page.play') }}</RouterLink
          >
          <span
            >{{ said(one) }} <span class="soft">{{ texts(one) }}</span></span
          >
          <span class="mono soft">{{ length(one) }}</span>
        </p>
      </template>
      <template v-if="extras.length">
        <h2>{{ t('page.extras') }}</h2>
        <p v-for="one in extras" :key="one.file_id" class="row extra">
          <RouterLink :to="`/play/${entry.card.id}?file=${one.file_id}`">{{
            one.label
          }}</RouterLink>
          <span class="mono soft">{{ lasts(one.seconds ?? 0, t) }}</span>
        </p>
      </template>
    </section>
    <section v-if="entry.related.length">
      <h2>{{ t('page.related') }}</h2>
      <div class="related">
        <div v-for="one in entry.related" :key="one.entry.id">
          <EntryTile :entry="one.entry" brief />
          <p class="soft">{{ why(one) }}</p>
        </div>
      </div>
    </section>
  </div>
</template>

<style scoped>
.more {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
  gap: 20px 34px;
  margin-top: 24px;
}
h2 {
  margin: 0 0 6px;
  font-size: 17px;
}
.row + h2 {
  margin-top: 20px;
}
.row {
  display: grid;
  grid-template-columns: minmax(72px, auto) minmax(0, 1fr) auto;
  gap: 14px;
  align-items: baseline;
  margin: 0;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
.row.extra {
  grid-template-columns: minmax(0, 1fr) auto;
}
.title {
  font-weight: 500;
}
.away {
  color: var(--ink-faint);
  text-decoration: line-through;
}
.related {
  display: grid;
  grid-template-columns: repeat(auto-fill, 92px);
  gap: 14px 12px;
}
.related p {
  margin: 5px 0 0;
  font-size: 12px;
  line-height: 1.35;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  .more {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
