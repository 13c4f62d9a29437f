<script setup lang="ts">
import { useQueries, useQuery } from '@tanstack/vue-query'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useSessionStorage } from '@vueuse/core'
import { computed, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type TreeNode } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import DiffName from '@/parts/DiffName.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import MarkedName from '@/parts/MarkedName.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateBar from '@/parts/StateBar.vue'
import StateSign from '@/parts/StateSign.vue'
import PlanSheet from '../names/PlanSheet.vue'
import { usePlans } from '@/composables/usePlans'
import FileStory from './FileStory.vue'

const ROOT_PX = 34
const ROW_PX = 28
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const opened = useSessionStorage<string[]>('folders.opened', [])
const asWould = useSessionStorage('folders.would', false)
const { data: roots, error } = useQuery({
  queryKey: ['tree', 'roots'],
  queryFn: () => ask(api.GET('/api/tree')),
})
const key = (node: { folder_id: number; path: string }) => `${node.folder_id}:${node.path}`
const isOpen = computed(() => new Set(opened.value))
/** Each open folder is one question: a tree of any size is fetched as far as it is looked at. */
const levels = useQueries({
  queries: computed(() =>
    opened.value.map((place) => {
      const cut = place.indexOf(':')
      const asked = { folder_id: Number(place.slice(0, cut)), path: place.slice(cut + 1) }
      return {
        queryKey: ['tree', place],
        queryFn: () => ask(api.GET('/api/tree', { params: { query: asked } })),
      }
    }),
  ),
})
const below = computed(
  () =>
    new Map(opened.value.map((place, index) => [place, levels.value[index]?.data?.nodes ?? []])),
)
const nodes = computed(() => roots.value?.nodes ?? [])
const visible = computed(() => {
  const shown: TreeNode[] = []
  const add = (node: TreeNode): void => {
    shown.push(node)
    if (isOpen.value.has(key(node)))
      for (const child of below.value.get(key(node)) ?? []) add(child)
  }
  nodes.value.forEach(add)
  return shown
})
const pane = useTemplateRef<HTMLElement>('pane')
/** Rows that are out of sight are not mounted: a folder may hold twenty thousand others. */
const rows = useVirtualizer(
  computed(() => ({
    count: visible.value.length,
    getScrollElement: () => pane.value,
    estimateSize: (index: number) => (visible.value[index]?.depth === 0 ? ROOT_PX : ROW_PX),
    getItemKey: (index: number) => key(visible.value[index]!),
    overscan: 20,
  })),
)
const inSight = computed(() =>
  rows.value
    .getVirtualItems()
    .map((item) => ({ start: item.start, node: visible.value[item.index]! })),
)
const chosen = computed(() =>
  route.query.folder
    ? { folder_id: Number(route.query.folder), path: String(route.query.path ?? '') }
    : undefined,
)
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
const total = (states: Record<string, number>) =>
  Object.values(states).reduce((sum, n) => sum + n, 0)

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

watch(
  nodes,
  (now) => {
    if (chosen.value) reveal(chosen.value)
    else if (now.length) void openSomething(now[0]!)
  },
  { immediate: true },
)
/** The first folder that holds files and no folders is opened, so that there is something to see. */
async function openSomething(root: TreeNode): Promise<void> {
  let at = root
  const path: TreeNode[] = []
  while (at.has_children) {
    path.push(at)
    const { nodes: found } = await ask(
      api.GET('/api/tree', { params: { query: { folder_id: at.folder_id, path: at.path } } }),
    )
    const leaf = found.find((node) => !node.has_children)
    at = leaf ?? found[0] ?? at
    if (!found.length) break
  }
  if (chosen.value) return
  if (!opened.value.length) opened.value = path.map(key)
  void router.replace({ query: { folder: at.folder_id, path: at.path } })
}
/** Open every folder above one that an address names. */
function reveal(place: { folder_id: number; path: string }): void {
  const parts = place.path.split('/')
  const above = [
    `${place.folder_id}:`,
    ...parts.slice(0, -1).map((_, at) => `${place.folder_id}:${parts.slice(0, at + 1).join('/')}`),
  ]
  opened.value = [...new Set([...opened.value, ...(place.path ? above : above.slice(0, 0))])]
}
function toggle(node: TreeNode): void {
  opened.value = isOpen.value.has(key(node))
    ? opened.value.filter((k) => k !== key(node))
    : [...opened.value, key(node)]
}
function choose(node: TreeNode): void {
  if (node.has_children && !isOpen.value.has(key(node))) toggle(node)
  void router.push({ query: { folder: node.folder_id, path: node.path } })
}
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
    <aside ref="pane" :aria-label="t('place.folders')">
      <ProblemNote v-if="error" :error="error" />
      <ul
        v-if="nodes.length"
        role="tree"
        class="tree"
        :style="{ height: `${rows.getTotalSize()}px` }"
      >
        <li
          v-for="{ node, start } in inSight"
          :key="key(node)"
          :style="{ transform: `translateY(${start}px)` }"
          role="treeitem"
          :aria-level="node.depth + 1"
          :aria-expanded="node.has_children ? isOpen.has(key(node)) : undefined"
          :aria-selected="chosen?.folder_id === node.folder_id && chosen.path === node.path"
        >
          <button
            class="plain node"
            :class="{
              at: chosen?.folder_id === node.folder_id && chosen.path === node.path,
              root: node.depth === 0,
            }"
            :style="{ paddingInlineStart: `${8 + node.depth * 14}px` }"
            @click="choose(node)"
          >
            <span
              class="turn"
              :class="{ open: isOpen.has(key(node)), none: !node.has_children }"
              @click.stop="toggle(node)"
              >▸</span
            >
            <span class="dir" :title="node.name">{{ node.name }}</span>
            <span class="mono faint n">{{ total(node.states) }}</span>
            <StateBar :states="node.states" class="bar" />
          </button>
        </li>
      </ul>
      <EmptyPlace v-else :title="t('folders.noLibrary')"
        ><RouterLink to="/house">{{ t('folders.addOne') }}</RouterLink></EmptyPlace
      >
    </aside>
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
        <ul v-if="files.length" class="card files" :class="{ would: asWould }">
          <li
            v-for="item in files"
            :key="item.id"
            :class="{ at: item.id === fileId, trouble: item.problem }"
          >
            <button class="plain row" :aria-expanded="item.id === fileId" @click="pick(item.id)">
              <StateSign :state="item.state" />
              <template v-if="!asWould">
                <MarkedName
                  :path="item.path"
                  :marks="item.marks"
                  :from="item.directory ? Array.from(item.directory).length + 1 : 0"
                  class="file"
                />
                <span class="taken soft"
                  >{{ t(`file.${item.kind}`)
                  }}<template
                    v-if="
                      item.serves &&
                      item.serves !== 'main' &&
                      t(`serves.${item.serves}`) !== t(`file.${item.kind}`)
                    "
                    >, {{ t(`serves.${item.serves}`) }}</template
                  ></span
                >
              </template>
              <DiffName
                v-else-if="item.tidy && item.tidy !== item.path"
                :before="item.path"
                :after="item.tidy"
                class="file"
              />
              <span v-else class="file mono soft"
                >{{ item.name
                }}<em>{{
                  item.tidy ||
                  [
                    'subtitle',
                    'artwork',
                    'extra',
                    'lyrics',
                    'sidecar',
                    'photo',
                    'clip',
                    'other',
                    'playlist',
                  ].includes(item.kind)
                    ? t('folders.leave')
                    : t('folders.unknown')
                }}</em></span
              >
            </button>
            <p v-if="item.problem" class="problem"><StateSign state="name" />{{ item.problem }}</p>
          </li>
        </ul>
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
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 10px 0;
  position: sticky;
  top: 54px;
  height: calc(100vh - 54px);
  overflow: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.tree {
  position: relative;
}
.tree li {
  position: absolute;
  inset-inline: 0;
  top: 0;
}
.node {
  display: grid;
  grid-template-columns: 14px minmax(0, 1fr) auto 52px;
  gap: 7px;
  align-items: center;
  width: 100%;
  height: 28px;
  padding-inline-end: 14px;
  border-inline-start: 3px solid transparent;
}
.node:hover {
  background: color-mix(in srgb, var(--accent-soft) 60%, transparent);
}
.node.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
}
.node.root {
  height: 34px;
  font: 700 14px/1 var(--serif);
}
.dir {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  line-height: 1.4;
}
.turn {
  color: var(--ink-faint);
  font-size: 11px;
  transition: transform 0.1s;
}
.turn.open {
  transform: rotate(90deg);
}
.turn.none {
  visibility: hidden;
}
.n {
  font-size: 11.5px;
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
.files li {
  border-bottom: 1px solid var(--rule);
}
.files li:last-child {
  border: 0;
}
.row {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: var(--row);
  padding: 5px 12px;
}
.row:hover {
  background: color-mix(in srgb, var(--accent-soft) 45%, transparent);
}
.at > .row {
  box-shadow: inset 0 0 0 2px var(--accent);
  border-radius: 3px;
}
.taken {
  font-size: 12.5px;
  white-space: nowrap;
}
.file em {
  font: italic 12px var(--sans);
  margin-inline-start: 12px;
  color: var(--ink-faint);
}
.problem {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 0;
  padding: 0 12px 7px 38px;
  color: var(--stamp);
  font-size: 12.5px;
}
.form {
  margin: 0 0 8px;
}
.pad {
  padding: 8px 2px;
}
@media (max-width: 860px) {
  .folders {
    grid-template-columns: 1fr;
  }
  aside {
    position: static;
    height: auto;
    max-height: 40vh;
    border: 0;
    border-bottom: 1px solid var(--rule);
  }
  .main {
    padding: 12px;
  }
  .taken {
    display: none;
  }
}
</style>
