<script setup lang="ts">
/** A photo or clip to be pressed; how wide or high it is says who shows it. */
import { at as address, type EntryCard } from '@/api/client'

defineProps<{ entry: EntryCard }>()
</script>

<template>
  <button
    class="plain shot"
    :title="entry.title"
    :aria-label="entry.title"
    :style="{
      aspectRatio: entry.picture ? entry.picture.width / entry.picture.height : 1.5,
      backgroundImage: entry.picture
        ? `url(${address(`pictures/${entry.picture.digest}/480`)}), url(${entry.picture.blur})`
        : undefined,
    }"
  >
    <span v-if="!entry.picture" class="mono">{{ entry.title }}</span>
    <span v-else-if="entry.kind === 'clip'" class="clip" aria-hidden="true">▶</span>
  </button>
</template>

<style scoped>
.shot {
  position: relative;
  border-radius: 2px;
  background: var(--desk) center / cover;
  overflow: hidden;
}
.shot:hover {
  outline: 3px solid var(--card);
  box-shadow: var(--shadow);
}
.mono {
  font-size: 11px;
  overflow-wrap: anywhere;
}
.clip {
  position: absolute;
  inset-inline-start: 6px;
  bottom: 6px;
  color: #fff;
  text-shadow: 0 0 4px #000;
}
</style>
