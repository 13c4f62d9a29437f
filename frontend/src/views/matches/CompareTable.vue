<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Match } from '@/api/client'
import CoverImage from '@/parts/CoverImage.vue'
import MarkedName from '@/parts/MarkedName.vue'
import { rowsOf, silent, type Here } from './compare'
import ForAndAgainst from './ForAndAgainst.vue'

const props = defineProps<{ match: Match; busy: boolean; taken: string | null }>()
const emit = defineEmits<{ take: [index: number] }>()
const { t, locale } = useI18n()
const FILES_SHOWN = 3
/** The candidate whose page of the source is open. */
const page = ref<number>()

const here = computed(() => props.match.here as Here)
/** A language by its name; what is no code stays as it is. */
function tongue(code: string): string {
  try {
    return new Intl.DisplayNames([String(locale.value)], { type: 'language' }).of(code) ?? code
  } catch {
    return code
  }
}
const rows = computed(() =>
  rowsOf(props.match, { minutes: (n) => t('matches.minutes', { n }), tongue }),
)
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
            :class="{ differs: row.differs[index], long: row.isLong }"
          >
            <template v-if="row.differs[index]"
              ><span class="unlike" aria-hidden="true">≠</span></template
            >{{ cell }}
          </td>
        </tr>
        <tr>
          <th scope="row">{{ t('row.score') }}</th>
          <td class="here"></td>
          <td v-for="candidate in match.candidates" :key="candidate.id">
            <ForAndAgainst :candidate="candidate" :silent="silent(match, candidate)" />
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

<style scoped src="./compare.css"></style>
