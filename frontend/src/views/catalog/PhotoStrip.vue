<script setup lang="ts">
/** Photos and clips in one line of a steady height; one opens large. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { EntryCard } from '@/api/client'
import LightTable from '@/parts/LightTable.vue'
import ShotButton from '@/parts/ShotButton.vue'

const props = defineProps<{
  entries: readonly EntryCard[]
  /** In as many rows as they need, instead of one. */
  wrapped?: boolean
}>()
const router = useRouter()
const opened = ref(-1)
const photos = computed(() => props.entries.filter((one) => one.kind === 'photo' && one.picture))
const ratio = (shot: EntryCard) => (shot.picture ? shot.picture.width / shot.picture.height : 1.5)
function open(shot: EntryCard): void {
  opened.value = photos.value.findIndex((one) => one.id === shot.id)
  if (opened.value < 0) void router.push(`/catalog/entry/${shot.id}`)
}
</script>

<template>
  <div class="strip" :class="{ wrapped }">
    <ShotButton
      v-for="shot in entries"
      :key="shot.id"
      :entry="shot"
      :style="{ '--ratio': ratio(shot) }"
      @click="open(shot)"
    />
    <span v-if="wrapped" class="filler"></span>
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
.wrapped {
  flex-wrap: wrap;
  overflow: visible;
}
.wrapped .shot {
  flex: calc(var(--ratio) * 100) 0 calc(var(--ratio) * 150px);
  height: auto;
  min-width: 70px;
  max-width: 460px;
}
.filler {
  flex: 1000 0 0;
}
@media (max-width: 760px) {
  .shot {
    height: 96px;
  }
  .wrapped .shot {
    flex-basis: calc(var(--ratio) * 96px);
    height: auto;
  }
}
</style>
