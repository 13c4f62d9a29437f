<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Candidate, Match } from '@/api/client'
import CoverImage from '@/parts/CoverImage.vue'
import MarkedName from '@/parts/MarkedName.vue'

const props = defineProps<{ match: Match; busy: boolean; taken: string | null }>()
const emit = defineEmits<{ take: [index: number] }>()
const { t, te, locale } = useI18n()
const FILES_SHOWN = 3
/** The candidate whose page of the source is open. */
const page = ref<number>()

interface Here {
  title?: string
  year?: number
  artist?: string
  seconds?: number
  count?: number
  languages?: string[]
}
const here = computed(() => props.match.here as Here)
const list = (candidate: Candidate, field: string) =>
  ((candidate.fields[field] ?? []) as unknown[]).map(String)
const year = (candidate: Candidate) =>
  list(candidate, 'date')[0]?.slice(0, 4) ??
  /\b(1[89]|20)\d\d\b/.exec(candidate.description)?.[0] ??
  ''
const minutes = (candidate: Candidate) => {
  const seconds = Number(list(candidate, 'runtime')[0] ?? 0)
  return seconds ? t('matches.minutes', { n: Math.round(seconds / 60) }) : ''
}
/** A language by its name; what is no code stays as it is. */
function tongue(code: string): string {
  try {
    return new Intl.DisplayNames([String(locale.value)], { type: 'language' }).of(code) ?? code
  } catch {
    return code
  }
}
interface Row {
  name: string
  here: string
  cells: string[]
  compare: boolean
  long?: boolean
}
const rows = computed<Row[]>(() => {
  const all = props.match.candidates
  const kind = props.match.entry.kind
  const made: Row[] = [
    { name: 'title', here: here.value.title ?? '', cells: all.map((c) => c.name), compare: true },
    {
      name: 'aliases',
      here: '',
      cells: all.map((c) => list(c, 'aliases').join(', ')),
      compare: false,
    },
    { name: 'year', here: String(here.value.year ?? ''), cells: all.map(year), compare: true },
  ]
  if (kind === 'movie')
    made.push({
      name: 'minutes',
      here: here.value.seconds
        ? t('matches.minutes', { n: Math.round(here.value.seconds / 60) })
        : '',
      cells: all.map(minutes),
      compare: true,
    })
  if (kind === 'album')
    made.push(
      {
        name: 'artist',
        here: here.value.artist ?? '',
        cells: all.map((c) => list(c, 'artists').join(', ')),
        compare: true,
      },
      {
        name: 'count',
        here: here.value.count ? String(here.value.count) : '',
        cells: all.map((c) => (c.fields.tracks ? String(list(c, 'tracks').length) : '')),
        compare: true,
      },
    )
  if (kind === 'series')
    made.push({
      name: 'count',
      here: here.value.count ? String(here.value.count) : '',
      cells: all.map((c) => (c.fields.episodes ? String(list(c, 'episodes').length) : '')),
      compare: true,
    })
  made.push(
    {
      name: 'languages',
      here: (here.value.languages ?? []).map(tongue).join(', '),
      cells: all.map((c) => list(c, 'languages').map(tongue).join(', ')),
      compare: false,
    },
    {
      name: 'people',
      here: '',
      cells: all.map((c) => [...list(c, 'directors'), ...list(c, 'cast')].slice(0, 3).join(', ')),
      compare: false,
    },
    {
      name: 'genres',
      here: '',
      cells: all.map((c) => list(c, 'genres').join(', ')),
      compare: false,
    },
    { name: 'description', here: '', cells: all.map((c) => c.description), compare: false },
    {
      name: 'plot',
      here: '',
      cells: all.map((c) => list(c, 'plot')[0] ?? ''),
      compare: false,
      long: true,
    },
  )
  return made.filter((row) => row.here || row.cells.some(Boolean))
})
type Part = Candidate['parts'][number]
const AGREES = 0.9
const DIFFERS = 0.6
/** Which way a part speaks: for a candidate, half, or against it. */
function speaks(part: Part): 'for' | 'half' | 'veto' {
  if (part.veto || part.likeness < DIFFERS) return 'veto'
  return part.likeness >= AGREES ? 'for' : 'half'
}
const SIGNS = { for: '+', half: '~', veto: '−' }
const RANK = { for: 0, half: 1, veto: 2 }
const weighed = (candidate: Candidate): Part[] =>
  [...candidate.parts].sort((one, other) => RANK[speaks(one)] - RANK[speaks(other)])
/** What the files say that nothing is known of on the other side: it speaks neither way. */
function silent(candidate: Candidate): string[] {
  const said = new Set(candidate.parts.map((part) => part.name))
  const known: [string, unknown][] = [
    ['year', here.value.year],
    ['running time', props.match.entry.kind === 'movie' && here.value.seconds],
    ['artist', here.value.artist],
  ]
  return known.filter(([name, value]) => value && !said.has(name)).map(([name]) => worded(name))
}
const worded = (name: string) => (te(`part.${name}`) ? t(`part.${name}`) : name)
function compared(part: Part): string {
  if (part.here === part.there || !part.there) return part.here
  return part.name === 'tracks' || part.name === 'episode titles'
    ? part.there
    : `${part.here} / ${part.there}`
}
const differs = (row: Row, cell: string) => {
  if (!row.compare || !row.here || !cell) return false
  if (row.name === 'minutes') return Math.abs(parseInt(row.here) - parseInt(cell)) > 3
  return row.here.toLocaleLowerCase() !== cell.toLocaleLowerCase()
}
</script>

<template>
  <div class="frame">
    <table class="card" :style="{ '--n': match.candidates.length }">
      <thead>
        <tr>
          <td class="names"></td>
          <th scope="col" class="here">
            <span class="label">{{ t('matches.here') }}</span>
            <CoverImage
              v-if="match.picture"
              :picture="match.picture"
              :title="match.entry.title"
              :kind="match.entry.kind"
              :size="240"
              class="front"
              :class="match.entry.kind"
            />
            <img
              v-else-if="match.frame"
              class="shot"
              :src="`/api/files/${match.frame}/frame?at=${Math.round((here.seconds ?? 30) * 0.3)}`"
              :alt="t('matches.frame')"
              loading="lazy"
              @error="($event.target as HTMLElement).style.display = 'none'"
            />
            <span v-for="file in match.files.slice(0, FILES_SHOWN)" :key="file.id" class="file"
              ><MarkedName :path="file.path" :marks="file.marks"
            /></span>
            <span v-if="match.files.length > FILES_SHOWN" class="faint">{{
              t('today.more', { n: match.files.length - FILES_SHOWN })
            }}</span>
          </th>
          <th
            v-for="(candidate, index) in match.candidates"
            :key="candidate.id"
            scope="col"
            class="candidate"
          >
            <span v-if="candidate.external_id === taken" class="stamp">{{
              t('matches.isTaken')
            }}</span>
            <el-button
              v-else
              :type="index === 0 ? 'primary' : 'default'"
              :disabled="busy"
              :data-test="`take-${index + 1}`"
              @click="emit('take', index)"
              ><kbd>{{ index + 1 }}</kbd
              >&nbsp;{{ t('matches.take') }}</el-button
            >
            <span class="faint"
              >{{ candidate.source }} <span class="mono">{{ candidate.external_id }}</span>{{ ' '
              }}<button
                class="link page"
                :aria-expanded="page === candidate.id"
                @click="page = page === candidate.id ? undefined : candidate.id"
              >
                {{ t('matches.page') }}
              </button></span
            >
            <iframe
              v-if="page === candidate.id"
              :src="`/api/candidates/${candidate.id}/preview`"
              sandbox=""
              :title="candidate.name"
              referrerpolicy="no-referrer"
            ></iframe>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row">{{ t(`row.${row.name}`) }}</th>
          <td class="here">{{ row.here }}</td>
          <td
            v-for="(cell, index) in row.cells"
            :key="index"
            :class="{ differs: differs(row, cell), long: row.long }"
          >
            <template v-if="differs(row, cell)"
              ><span class="unlike" aria-hidden="true">≠</span></template
            >{{ cell }}
          </td>
        </tr>
        <tr>
          <th scope="row">{{ t('row.score') }}</th>
          <td class="here"></td>
          <td v-for="candidate in match.candidates" :key="candidate.id">
            <b class="mono">{{ Math.round(candidate.score * 100) }} %</b>
            <ul class="parts">
              <li v-for="part in weighed(candidate)" :key="part.name" :class="speaks(part)">
                <i aria-hidden="true">{{ SIGNS[speaks(part)] }}</i><span
                  ><b>{{ worded(part.name) }}</b> {{ compared(part) }}</span
                >
              </li>
              <li v-if="candidate.is_looked_at && silent(candidate).length">
                <i aria-hidden="true">?</i
                ><span>{{ t('matches.silent', { what: silent(candidate).join(', ') }) }}</span>
              </li>
            </ul>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="match.apart.length" class="apart">
      <span class="label">{{ t('matches.apart') }}</span><span
        v-for="(other, index) in match.apart"
        :key="index"
        :title="other.description"
        >{{ other.name }} <small class="faint">{{ other.type }}</small></span
      >
    </p>
  </div>
</template>

<style scoped>
.frame {
  overflow-x: auto;
  padding-bottom: 4px;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  table-layout: fixed;
  width: 100%;
  min-width: calc(358px + var(--n) * 180px);
}
th,
td {
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
  border-inline-end: 1px solid var(--rule);
  text-align: start;
  vertical-align: top;
  font-weight: 400;
  overflow-wrap: anywhere;
}
tr > :last-child {
  border-inline-end: 0;
}
tbody tr:last-child > * {
  border-bottom: 0;
}
th[scope='row'],
.names {
  width: 108px;
  color: var(--ink-soft);
  font-size: 12.5px;
  background: color-mix(in srgb, var(--paper) 55%, var(--card));
  position: sticky;
  left: 0;
  z-index: 1;
}
.here {
  width: 290px;
  background: color-mix(in srgb, var(--accent-soft) 45%, var(--card));
}
td.here {
  font-weight: 500;
}
thead th {
  vertical-align: bottom;
}
.here .label,
.file {
  display: block;
}
.file {
  margin-top: 5px;
  line-height: 1.5;
}
.front {
  width: 84px;
  height: 126px;
  margin: 8px 0;
}
.front.album {
  height: 84px;
}
.shot {
  display: block;
  width: 168px;
  max-width: 100%;
  border-radius: 2px;
  margin: 8px 0;
  background: var(--desk);
}
.candidate .stamp {
  display: inline-block;
  font: 600 12px var(--sans);
  letter-spacing: 0.06em;
  text-transform: uppercase;
  padding: 4px 9px;
  color: var(--stamp);
  border: 1.5px solid currentColor;
  border-radius: 3px;
  transform: rotate(-2deg);
}
.candidate > * {
  display: block;
}
.candidate .faint {
  margin-top: 6px;
  font-size: 12px;
}
iframe {
  width: 100%;
  height: 120px;
  margin-top: 6px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: #fff;
}
.page {
  font-size: 12px;
}
.candidate kbd {
  font-size: 10.5px;
  padding: 1px 4px;
}
.differs {
  color: var(--stamp);
  font-weight: 500;
}
.unlike {
  font-family: 'DejaVu Sans', 'Noto Sans Math', var(--mono);
  margin-inline-end: 6px;
}
.long {
  font-size: 12.5px;
  color: var(--ink-soft);
}
.parts {
  list-style: none;
  margin: 6px 0 2px;
  padding: 0;
  font-size: 12px;
}
.parts li {
  display: grid;
  grid-template-columns: 12px 1fr;
  gap: 6px;
  line-height: 1.45;
  padding: 1px 0;
  color: var(--ink-soft);
}
.parts b {
  font-weight: 500;
}
.parts i {
  font: 600 13px/1.35 var(--mono);
  text-align: center;
}
.for i {
  color: var(--moss);
}
.half i {
  color: var(--amber, #8a5a00);
}
.apart {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  margin: 12px 0 0;
  font-size: 13px;
}
.apart .label {
  margin: 0;
}
@media (max-width: 860px) {
  table {
    min-width: calc(248px + var(--n) * 165px);
  }
  th[scope='row'],
  .names {
    width: 78px;
    padding-inline: 8px;
  }
  .here {
    width: 170px;
  }
  th,
  td {
    padding-inline: 9px;
  }
  .shot {
    width: 100%;
  }
}
.parts .veto {
  color: var(--stamp);
}
</style>
