<script setup lang="ts">
/** Folders as they lie, what each name says, and how it would be called. */
import { useQuery } from '@tanstack/vue-query'
import { useSessionStorage } from '@vueuse/core'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import { usePlans } from '@/composables/usePlans'
import ProblemNote from '@/parts/ProblemNote.vue'
import PlanSheet from '../names/PlanSheet.vue'
import FileList from './FileList.vue'
import FileStory from './FileStory.vue'
import FolderTree from './FolderTree.vue'
import { useTree } from './useTree'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const asWould = useSessionStorage('folders.would', false)
const { nodes, error, visible, isOpen, chosen, toggle, choose } = useTree()
const fileId = computed(() => (route.query.file ? Number(route.query.file) : undefined))
const { data: listing } = useQuery({
  queryKey: ['files', chosen],
  queryFn: () =>
    ask(
      api.GET('/api/files', {
        params: { query: { folder_id: chosen.value!.folder_id, directory: chosen.value!.path } },
      }),
    ),
  enabled: () => !!chosen.value,
  placeholderData: (before) => before,
})
const files = computed(() => (chosen.value ? (listing.value?.files ?? []) : []))
const file = computed(() => files.value.find((f) => f.id === fileId.value))

const { data: libraries } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
})
const sheet = usePlans()
/** A plan that brings the chosen folder, with all that lies below, into the form of the convention. */
async function bringIntoForm(): Promise<void> {
  const place = chosen.value
  const library = libraries.value?.libraries.find((one) =>
    one.folders.some((folder) => folder.id === place?.folder_id),
  )
  if (place && library) await sheet.draftWhole(library.id, place.path)
}
watch(() => chosen.value?.path, sheet.close)
function pick(id: number): void {
  void router.replace({ query: { ...route.query, file: fileId.value === id ? undefined : id } })
}
function move(by: number): void {
  const at = files.value.findIndex((f) => f.id === fileId.value)
  const next = files.value[Math.min(Math.max(at + by, 0), files.value.length - 1)]
  if (next) void router.replace({ query: { ...route.query, file: next.id } })
}
useKeys({
  j: () => move(1),
  k: () => move(-1),
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  Enter: () => file.value?.entry_id && router.push(`/catalog/entry/${file.value.entry_id}`),
})
</script>

<template>
  <div class="folders">
    <FolderTree
      :visible="visible"
      :is-open="isOpen"
      :chosen="chosen"
      @choose="choose"
      @toggle="toggle"
    >
      <ProblemNote v-if="error" :error="error" />
    </FolderTree>
    <section class="main">
      <div class="bar-top">
        <h1 v-if="chosen" class="mono">
          {{ chosen.path || nodes.find((n) => n.folder_id === chosen!.folder_id)?.name }}
        </h1>
        <div class="switch" role="radiogroup">
          <button role="radio" :aria-checked="!asWould" @click="asWould = false">
            {{ t('folders.asIs') }}</button><button
            role="radio"
            :aria-checked="asWould"
            @click="asWould = true"
          >
            {{ t('folders.asWould') }}
          </button>
        </div>
      </div>
      <p v-if="asWould && chosen && !sheet.plans.value.length" class="form">
        <button class="link" data-test="into-form" @click="bringIntoForm">
          {{ t('folders.intoForm') }}
        </button>
      </p>
      <ProblemNote v-if="sheet.error.value" :error="sheet.error.value" />
      <PlanSheet
        v-if="sheet.plans.value.length"
        :plans="sheet.plans.value"
        :jobs="sheet.jobs.value"
        :busy="sheet.busy.value"
        plain
        @apply="sheet.apply"
        @undo="sheet.undo"
        @close="sheet.close"
      />
      <template v-else>
        <p v-if="chosen && listing && !files.length" class="soft pad">{{ t('folders.empty') }}</p>
        <FileList
          v-if="files.length"
          :files="files"
          :chosen="fileId"
          :as-would="asWould"
          @pick="pick"
        />
        <FileStory v-if="file" :file="file" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.folders {
  display: grid;
  grid-template-columns: 372px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
.main {
  padding: 14px 22px 40px;
  min-width: 0;
}
.bar-top {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 16px;
  min-height: 34px;
  margin-bottom: 10px;
}
h1 {
  font-size: 15px;
  font-weight: 500;
  overflow-wrap: anywhere;
}
.switch {
  display: flex;
  flex: none;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  overflow: hidden;
  background: var(--card);
}
.switch button {
  border: 0;
  background: none;
  height: 30px;
  padding: 0 13px;
  cursor: pointer;
  font-weight: 500;
  color: var(--ink-soft);
}
.switch [aria-checked='true'] {
  background: var(--accent);
  color: var(--card);
}
.form {
  margin: 0 0 8px;
}
.pad {
  padding: 8px 2px;
}
@media (max-width: 860px) {
  .folders {
    grid-template-rows: auto 1fr;
    grid-template-columns: 1fr;
  }
  .main {
    padding: 12px;
  }
}
</style>
