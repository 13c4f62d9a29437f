<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Convention } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import TemplateField from './TemplateField.vue'

type FileSystem = 'any' | 'strict' | 'linux'
const GROUPS: Record<string, string[]> = {
  video: ['movie', 'episode', 'special', 'dated', 'running'],
  music: ['track', 'compilation'],
  own: ['photo', 'clip'],
  beside: ['subtitle', 'extra', 'artwork', 'lyrics'],
}
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['conventions'],
  queryFn: () => ask(api.GET('/api/conventions')),
})
const { data: libraries } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
})
const chosen = computed(
  () =>
    data.value?.conventions.find((c) => c.name === route.params.name) ?? data.value?.conventions[0],
)
const draft = ref<{
  name: string
  about: string
  file_system: FileSystem
  templates: Record<string, string>
}>()
const libraryId = ref<number>()
const error = ref<Error>()
const asked = ref<{ file_system: FileSystem; templates: Record<string, string> }>()
const changed = computed(
  () =>
    !!draft.value &&
    !!chosen.value &&
    JSON.stringify(draft.value) !== JSON.stringify(bare(chosen.value)),
)
const { data: preview } = useQuery({
  queryKey: ['preview', computed(() => JSON.stringify([asked.value, libraryId.value]))],
  queryFn: () =>
    ask(
      api.POST('/api/conventions/preview', {
        body: {
          file_system: asked.value?.file_system ?? 'any',
          templates: asked.value?.templates ?? {},
          library_id: libraryId.value ?? null,
        },
      }),
    ),
  enabled: computed(() => !!asked.value),
  placeholderData: (before) => before,
})
const bare = (c: Convention) => ({
  name: c.name,
  about: c.about,
  file_system: c.file_system as FileSystem,
  templates: { ...c.templates },
})
watch(chosen, (convention) => convention && (draft.value = bare(convention)), { immediate: true })
watch(
  () => libraries.value,
  (known) =>
    (libraryId.value ??= (
      known?.libraries.find((l) => l.convention === chosen.value?.name) ?? known?.libraries[0]
    )?.id),
  { immediate: true },
)
watchDebounced(
  draft,
  (now) => now && (asked.value = { file_system: now.file_system, templates: { ...now.templates } }),
  { deep: true, debounce: 250, immediate: true },
)
const problem = (slot: string) => preview.value?.errors.find((e) => e.slot === slot)
const samples = (slot: string) => (preview.value?.samples ?? []).filter((s) => s.slot === slot)
async function attempt(work: () => Promise<unknown>): Promise<void> {
  error.value = undefined
  try {
    await work()
    await client.invalidateQueries()
  } catch (reason) {
    error.value = reason as Error
  }
}
const save = () =>
  attempt(async () => {
    if (!draft.value || !chosen.value) return
    const saved = await ask(
      api.PUT('/api/conventions/{name}', {
        params: { path: { name: chosen.value.name } },
        body: draft.value,
      }),
    )
    await router.replace(`/house/conventions/${encodeURIComponent(saved.name)}`)
  })
const copy = () =>
  attempt(async () => {
    if (!draft.value) return
    const known = new Set(data.value?.conventions.map((c) => c.name))
    let name = t('convention.copyOf', { name: draft.value.name })
    for (let n = 2; known.has(name); n++)
      name = `${t('convention.copyOf', { name: draft.value.name })} ${n}`
    await ask(
      api.PUT('/api/conventions/{name}', {
        params: { path: { name } },
        body: { ...draft.value, name },
      }),
    )
    await router.push(`/house/conventions/${encodeURIComponent(name)}`)
  })
const forget = () =>
  attempt(() =>
    ask(
      api.DELETE('/api/conventions/{name}', {
        params: { path: { name: chosen.value?.name ?? '' } },
      }),
    ),
  )
async function bringIn(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  await attempt(async () => {
    const made = await ask(api.POST('/api/conventions', { body: { text: await file.text() } }))
    await router.push(`/house/conventions/${encodeURIComponent(made.name)}`)
  })
}
</script>

<template>
  <div class="conventions">
    <aside>
      <p class="label">
        <RouterLink to="/house">{{ t('place.house') }}</RouterLink> / {{ t('convention.title') }}
      </p>
      <button
        v-for="c in data?.conventions ?? []"
        :key="c.name"
        class="plain row"
        :class="{ at: c.name === chosen?.name }"
        @click="router.push(`/house/conventions/${encodeURIComponent(c.name)}`)"
      >
        <span
          >{{ c.name }}<em v-if="c.own" class="faint"> {{ t('convention.own') }}</em></span
        ><span class="users faint">{{ c.libraries.join(', ') }}</span>
      </button>
      <label class="link import"
        >{{ t('convention.bringIn')
        }}<input type="file" accept=".toml,application/toml,text/plain" @change="bringIn"
      /></label>
    </aside>
    <section v-if="draft && chosen" class="main">
      <h1 class="only-said">{{ chosen.name }}</h1>
      <ProblemNote v-if="error" :error="error" />
      <div class="head">
        <input v-model="draft.name" class="name" :aria-label="t('convention.name')" /><a
          class="link"
          :href="`/api/conventions/${encodeURIComponent(chosen.name)}/toml`"
          download
          >{{ t('convention.takeOut') }}</a
        >
      </div>
      <textarea v-model="draft.about" rows="2" :aria-label="t('convention.about')"></textarea>
      <div class="choices">
        <label
          >{{ t('convention.namesFor') }}
          <select v-model="draft.file_system">
            <option v-for="f in data?.file_systems ?? []" :key="f" :value="f">
              {{ t(`convention.fileSystem.${f}`) }}
            </option>
          </select></label
        >
        <label
          >{{ t('convention.shownOn') }}
          <select v-model="libraryId">
            <option v-for="l in libraries?.libraries ?? []" :key="l.id" :value="l.id">
              {{ l.name }}
            </option>
          </select></label
        >
      </div>
      <template v-for="(members, group) in GROUPS" :key="group">
        <h2>{{ t(`convention.group.${group}`) }}</h2>
        <div class="card">
          <TemplateField
            v-for="slot in members"
            :key="slot"
            v-model="draft.templates[slot]"
            :slot-name="slot"
            :problem="problem(slot)"
            :samples="samples(slot)"
            :values="data?.values ?? []"
            :filters="data?.filters ?? []"
          />
        </div>
      </template>
      <footer>
        <el-button type="primary" :disabled="!changed || !!preview?.errors.length" @click="save">{{
          t('convention.save')
        }}</el-button>
        <el-button @click="copy">{{ t('convention.copy') }}</el-button>
        <button v-if="chosen.own" class="link" @click="forget">{{ t('house.forget') }}</button>
        <span class="soft">{{
          preview?.errors.length
            ? t('convention.wrong', preview.errors.length)
            : changed
              ? t('convention.changed')
              : ''
        }}</span>
      </footer>
    </section>
  </div>
</template>

<style scoped>
.conventions {
  display: grid;
  grid-template-columns: 276px minmax(0, 1fr);
  min-height: calc(100vh - 54px);
}
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 0 20px 10px;
}
.label a {
  text-decoration: underline;
}
.row {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  width: 100%;
  padding: 6px 16px 6px 17px;
  border-inline-start: 3px solid transparent;
  text-align: start;
}
.row.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
  font-weight: 600;
}
.users {
  font-size: 12px;
  font-weight: 400;
}
.import {
  display: inline-block;
  margin: 14px 20px;
  cursor: pointer;
}
.import input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.import:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: 2px;
}
.main {
  padding: 16px 22px 0;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 1100px;
}
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 16px;
}
.name {
  font: 700 26px/1.2 var(--serif);
  border: 0;
  border-bottom: 1px dashed var(--rule-strong);
  background: none;
  color: var(--ink);
  padding: 0 0 2px;
  min-width: 0;
  flex: 1;
}
textarea {
  font: 15px/1.5 var(--serif);
  border: 0;
  background: none;
  color: var(--ink-soft);
  resize: none;
  padding: 0;
  width: 100%;
  max-width: 76ch;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  font-size: 13px;
  color: var(--ink-soft);
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  padding: 3px 5px;
  max-width: 100%;
}
h2 {
  margin-top: 10px;
}
footer {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin: 12px -22px 0;
  padding: 12px 22px;
  background: var(--desk);
  border-top: 1px solid var(--rule);
}
@media (max-width: 860px) {
  .conventions {
    grid-template-columns: 1fr;
  }
  aside {
    border: 0;
    border-bottom: 1px solid var(--rule);
  }
  .main {
    padding: 12px 12px 0;
  }
  footer {
    margin: 12px -12px 0;
  }
}
</style>
