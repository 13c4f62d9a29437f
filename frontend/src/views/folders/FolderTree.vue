<script setup lang="ts">
/** The folders of all libraries as a tree, with how much of each stands where. */
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import type { TreeNode } from '@/api/client'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import StateBar from '@/parts/StateBar.vue'
import { placeKey, type Place } from './useTree'

const ROOT_PX = 34
const ROW_PX = 28
const props = defineProps<{
  visible: TreeNode[]
  isOpen: Set<string>
  chosen: Place | undefined
}>()
const emit = defineEmits<{ choose: [node: TreeNode]; toggle: [node: TreeNode] }>()
const { t } = useI18n()
const pane = useTemplateRef<HTMLElement>('pane')
/** Rows that are out of sight are not mounted: a folder may hold twenty thousand others. */
const rows = useVirtualizer(
  computed(() => ({
    count: props.visible.length,
    getScrollElement: () => pane.value,
    estimateSize: (index: number) => (props.visible[index]?.depth === 0 ? ROOT_PX : ROW_PX),
    getItemKey: (index: number) => placeKey(props.visible[index]!),
    overscan: 20,
  })),
)
const inSight = computed(() =>
  rows.value
    .getVirtualItems()
    .map((item) => ({ start: item.start, node: props.visible[item.index]! })),
)
const isChosen = (node: TreeNode) =>
  props.chosen?.folder_id === node.folder_id && props.chosen.path === node.path
const total = (states: Record<string, number>) =>
  Object.values(states).reduce((sum, n) => sum + n, 0)
</script>

<template>
  <aside ref="pane" :aria-label="t('place.folders')">
    <slot />
    <ul
      v-if="visible.length"
      role="tree"
      class="tree"
      :style="{ height: `${rows.getTotalSize()}px` }"
    >
      <li
        v-for="{ node, start } in inSight"
        :key="placeKey(node)"
        :style="{ transform: `translateY(${start}px)` }"
        role="treeitem"
        :aria-level="node.depth + 1"
        :aria-expanded="node.has_children ? isOpen.has(placeKey(node)) : undefined"
        :aria-selected="isChosen(node)"
      >
        <button
          class="plain node"
          :class="{
            at: isChosen(node),
            root: node.depth === 0,
          }"
          :style="{ paddingInlineStart: `${8 + node.depth * 14}px` }"
          @click="emit('choose', node)"
        >
          <span
            class="turn"
            :class="{ open: isOpen.has(placeKey(node)), none: !node.has_children }"
            @click.stop="emit('toggle', node)"
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
</template>

<style scoped>
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
@media (max-width: 860px) {
  aside {
    position: static;
    height: auto;
    max-height: 40vh;
    border: 0;
    border-bottom: 1px solid var(--rule);
  }
}
</style>
