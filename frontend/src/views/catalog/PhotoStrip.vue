<script setup lang="ts">
/** Photos and clips in one line of a steady height; one opens large. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { EntryCard } from '@/api/client'
import LightTable from '@/parts/LightTable.vue'
import ShotButton from '@/parts/ShotButton.vue'

const props = defineProps<{ entries: readonly EntryCard[] }>()
const router = useRouter()
const opened = ref(-1)
const photos = computed(() => props.entries.filter((one) => one.kind === 'photo' && one.picture))
function open(shot: EntryCard): void {
  opened.value = photos.value.findIndex((one) => one.id === shot.id)
  if (opened.value < 0) void router.push(`/catalog/entry/${shot.id}`)
}
</script>

<template>
  <div class="strip">
    <ShotButton v-for="shot in entries" :key="shot.id" :entry="shot" @click="open(shot)" />
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
  flex: none;
  height: 132px;
}
@media (max-width: 760px) {
  .shot {
    height: 96px;
  }
}
</style>
