<script setup lang="ts">
/** Photos and clips in one line of a steady height; one opens large. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { at as address, type EntryCard } from '@/api/client'
import LightTable from '@/parts/LightTable.vue'

const props = defineProps<{ entries: readonly EntryCard[] }>()
const router = useRouter()
const opened = ref(-1)
const photos = computed(() => props.entries.filter((one) => one.kind === 'photo' && one.picture))
const ratio = (entry: EntryCard) =>
  entry.picture ? entry.picture.width / entry.picture.height : 1.5
function open(shot: EntryCard): void {
  opened.value = photos.value.findIndex((one) => one.id === shot.id)
  if (opened.value < 0) void router.push(`/catalog/entry/${shot.id}`)
}
</script>

<template>
  <div class="strip">
    <button
      v-for="shot in entries"
      :key="shot.id"
      class="plain shot"
      :title="shot.title"
      :aria-label="shot.title"
      :style="{
        aspectRatio: ratio(shot),
        backgroundImage: shot.picture
          ? `url(${address(`pictures/${shot.picture.digest}/480`)}), url(${shot.picture.blur})`
          : undefined,
      }"
      @click="open(shot)"
    >
      <span v-if="!shot.picture" class="mono">{{ shot.title }}</span>
      <span v-else-if="shot.kind === 'clip'" class="clip" aria-hidden="true">▶</span>
    </button>
    <LightTable v-if="opened >= 0" v-model:at="opened" :entries="photos" @close="opened = -1" />
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 5px;
  overflow-x: auto;
  margin: -3px;
  padding: 3px 3px 8px;
}
.shot {
  position: relative;
  flex: none;
  height: 132px;
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
@media (max-width: 760px) {
  .shot {
    height: 96px;
  }
}
</style>
