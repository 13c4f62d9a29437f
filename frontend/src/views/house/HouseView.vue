<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage, ElMessageBox } from 'element-plus'
import 'element-plus/es/components/message-box/style/css'
import { ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Library } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { bytes, moment } from '@/composables/words'
import FolderChooser from '@/parts/FolderChooser.vue'
import PageIndex from '@/parts/PageIndex.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateBar from '@/parts/StateBar.vue'
import AwayPanel from './AwayPanel.vue'
import DeedsPanel from './DeedsPanel.vue'
import ExcusesPanel from './ExcusesPanel.vue'
import LibrarySettings from './LibrarySettings.vue'
import IntakePanel from './IntakePanel.vue'
import InvitePanel from './InvitePanel.vue'
import PasskeysPanel from './PasskeysPanel.vue'
import PeoplePanel from './PeoplePanel.vue'
import JobsPanel from './JobsPanel.vue'
import JournalPanel from './JournalPanel.vue'
import LooksPanel from './LooksPanel.vue'
import PlayingsPanel from './PlayingsPanel.vue'
import SharesPanel from './SharesPanel.vue'
import SourcesPanel from './SourcesPanel.vue'
import StoragePanel from './StoragePanel.vue'
import TaughtPanel from './TaughtPanel.vue'
import TextServicesPanel from './TextServicesPanel.vue'
import TokensPanel from './TokensPanel.vue'
import TroublesPanel from './TroublesPanel.vue'
import YouPanel from './YouPanel.vue'

const { t, locale } = useI18n()
const { data: status } = useStatus()
const client = useQueryClient()
const { data: libraries, error } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
})
const { data: conventions } = useQuery({
  queryKey: ['conventions'],
  queryFn: () => ask(api.GET('/api/conventions')),
})
const page = useTemplateRef<HTMLElement>('page')
const adding = ref(false)
const set = ref<number>()
const warn = (reason: Error) => ElMessage({ message: reason.message, type: 'warning' })
const scanning = useMutation({
  mutationFn: (id: number) =>
    ask(api.POST('/api/libraries/{library_id}/scan', { params: { path: { library_id: id } } })),
  onError: warn,
  onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
})
const matching = useMutation({
  mutationFn: (id: number) =>
    ask(api.POST('/api/libraries/{library_id}/match', { params: { path: { library_id: id } } })),
  onError: warn,
  onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
})
async function forget(library: Library): Promise<void> {
  try {
    await ElMessageBox.confirm(t('house.forgetSure', { name: library.name }), t('house.forget'), {
      confirmButtonText: t('house.forget'),
      cancelButtonText: t('house.cancel'),
    })
  } catch {
    return
  }
  await ask(
    api.DELETE('/api/libraries/{library_id}', { params: { path: { library_id: library.id } } }),
  ).catch(warn)
  await client.invalidateQueries()
}
async function follow(library: Library, event: Event): Promise<void> {
  const convention = (event.target as HTMLSelectElement).value
  await ask(
    api.PUT('/api/libraries/{library_id}/naming', {
      params: { path: { library_id: library.id } },
      body: { convention },
    }),
  ).catch(warn)
  await client.invalidateQueries()
}
</script>

<template>
  <div ref="page" class="house">
    <PageIndex :page="() => page" />
    <ProblemNote v-if="error" :error="error" />
    <PlayingsPanel />
    <section>
      <div class="head">
        <h1>{{ t('house.libraries') }}</h1>
        <RouterLink class="link conv" to="/house/conventions">{{
          t('convention.title')
        }}</RouterLink><el-button @click="adding = !adding">{{
          adding ? t('house.cancel') : t('house.addLibrary')
        }}</el-button>
      </div>
      <div v-if="adding" class="card adding"><FolderChooser @added="adding = false" /></div>
      <div class="card">
        <div v-for="library in libraries?.libraries ?? []" :key="library.id" class="library">
          <div class="what">
            <b>{{ library.name }}</b>{{ ' '
            }}<span class="soft"
              >{{ t(`kind.${library.kind}`) }}, {{ library.language
              }}{{ library.country ? '-' + library.country : '' }}</span
            >
            <span
              v-for="folder in library.folders"
              :key="folder.id"
              class="mono folder"
              :class="{ away: folder.state === 'away' }"
              >{{ folder.path }}<em v-if="folder.problem"> {{ folder.problem }}</em></span
            >
          </div>
          <label class="follows"
            >{{ t('house.follows') }}
            <select :value="library.convention" @change="follow(library, $event)">
              <option v-for="c in conventions?.conventions ?? []" :key="c.name">
                {{ c.name }}
              </option>
            </select></label
          >
          <div class="numbers">
            <StateBar :states="library.states" /><span class="mono faint"
              >{{ bytes(library.size_bytes, locale) }},
              {{
                library.scanned_at
                  ? t('house.scanned', { date: moment(library.scanned_at, locale) })
                  : t('house.never')
              }}</span
            >
          </div>
          <span class="acts"
            ><button
              class="link"
              :aria-expanded="set === library.id"
              @click="set = set === library.id ? undefined : library.id"
            >
              {{ t('house.settings') }}</button
            ><button class="link" @click="scanning.mutate(library.id)">{{ t('house.scan') }}</button
            ><button
              v-if="!['photos', 'home-videos'].includes(library.kind)"
              class="link"
              @click="matching.mutate(library.id)"
            >
              {{ t('house.match') }}</button
            ><button class="link" @click="forget(library)">{{ t('house.forget') }}</button></span
          >
          <LibrarySettings
            v-if="set === library.id"
            :key="library.id"
            :library="library"
            class="wide"
            @done="set = undefined"
          />
        </div>
        <p v-if="libraries && !libraries.libraries.length" class="pad soft">
          {{ t('folders.noLibrary') }}
        </p>
      </div>
    </section>
    <template v-if="status?.role === 'owner' && libraries">
      <PeoplePanel :libraries="libraries.libraries" />
      <InvitePanel :libraries="libraries.libraries" />
    </template>
    <SharesPanel />
    <AwayPanel v-if="status?.role === 'owner'" />
    <DeedsPanel v-if="status?.role === 'owner'" />
    <IntakePanel />
    <SourcesPanel />
    <TextServicesPanel />
    <TaughtPanel />
    <ExcusesPanel />
    <JournalPanel />
    <JobsPanel />
    <StoragePanel v-if="status?.role === 'owner'" />
    <TroublesPanel />
    <YouPanel />
    <LooksPanel />
    <PasskeysPanel />
    <TokensPanel />
  </div>
</template>

<style scoped>
.house :deep(h1),
.house :deep(h2) {
  scroll-margin-top: 108px;
}
.house {
  padding: 0 24px 40px;
  max-width: 1120px;
  margin: 0 auto;
}
section + section,
:deep(section) {
  margin-top: 28px;
}
section:first-of-type {
  margin-top: 0;
}
.head,
:deep(.head) {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 34px;
  margin-bottom: 8px;
}
.adding {
  padding: 16px;
  margin-bottom: 14px;
}
.library {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 158px 262px 176px;
  gap: 8px 24px;
  align-items: center;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.library:last-child {
  border: 0;
}
.library b {
  font: 700 14.5px var(--serif);
}
.folder {
  display: block;
  color: var(--ink-soft);
  overflow-wrap: anywhere;
}
.folder em {
  color: var(--stamp);
  font: 12.5px var(--sans);
}
.follows {
  white-space: nowrap;
  display: inline-flex;
  gap: 5px;
  align-items: center;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.follows select {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule);
  border-radius: 3px;
  padding: 1px 3px;
}
.conv {
  margin-inline: auto 16px;
}
.numbers {
  display: flex;
  flex-direction: column;
  gap: 5px;
  font-size: 12px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.wide {
  grid-column: 1 / -1;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
@media (max-width: 860px) {
  .house {
    padding: 14px 12px 40px;
  }
  .library {
    grid-template-columns: 1fr;
  }
  .acts {
    justify-self: start;
  }
}
</style>
