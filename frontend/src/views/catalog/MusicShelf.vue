<script setup lang="ts">
import { computed } from 'vue'
import type { EntryCard } from '@/api/client'
import EntryTile from '@/parts/EntryTile.vue'

const props = defineProps<{ entries: readonly EntryCard[] }>()
const artists = computed(() => {
  const found = new Map<string, EntryCard[]>()
  for (const album of props.entries)
    found.set(album.subtitle, [...(found.get(album.subtitle) ?? []), album])
  return [...found].map(([name, albums]) => ({ name, albums }))
})
</script>

<template>
  <div class="shelf">
    <section v-for="artist in artists" :key="artist.name">
      <h2>{{ artist.name }}</h2>
      <div class="albums">
        <EntryTile v-for="album in artist.albums" :key="album.id" :entry="album" square brief />
      </div>
    </section>
  </div>
</template>

<style scoped>
.shelf {
  display: flex;
  flex-wrap: wrap;
  gap: 20px 34px;
  margin-bottom: 20px;
}
h2 {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 1px solid var(--rule-strong);
  font-size: 16px;
}
.albums {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.albums > * {
  width: 146px;
}
@media (max-width: 760px) {
  .albums > * {
    width: 108px;
  }
}
</style>
