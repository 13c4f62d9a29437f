<script setup lang="ts">
import { computed } from 'vue'
import { at, type Picture } from '@/api/client'

const props = defineProps<{
  picture: Picture | null
  title: string
  kind: string
  size: number
  contain?: boolean
}>()
const initial = computed(
  () => Array.from(props.title.replace(/^(the|a|an|der|die|das|le|la|les)\s+/i, ''))[0] ?? '?',
)
</script>

<template>
  <span
    class="cover"
    :class="[kind, { contain }]"
    :style="picture ? { backgroundImage: `url(${picture.blur})` } : undefined"
  >
    <img
      v-if="picture"
      :src="at(`pictures/${picture.digest}/${size}`)"
      :alt="title"
      loading="lazy"
      decoding="async"
    />
    <span v-else class="bare" aria-hidden="true"
      ><i>{{ initial }}</i
      ><em>{{ title }}</em></span
    >
  </span>
</template>

<style scoped>
.cover {
  display: block;
  overflow: hidden;
  border-radius: 2px;
  background: var(--desk) center / cover;
  position: relative;
}
img {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.contain img {
  object-fit: contain;
}
.bare {
  position: absolute;
  inset: 0;
  display: flex;
  flex-direction: column;
  justify-content: center;
  align-items: center;
  gap: 8px;
  padding: 10%;
  background: repeating-linear-gradient(var(--card) 0 22px, var(--rule) 22px 23px);
  color: var(--ink-soft);
  text-align: center;
  container-type: inline-size;
}
.bare i {
  font: 700 clamp(14px, 34cqw, 56px) / 1 var(--serif);
  color: var(--accent);
  font-style: normal;
}
.bare em {
  font: 500 11.5px/1.3 var(--sans);
  overflow-wrap: anywhere;
  display: none;
  background: var(--card);
  padding: 0 4px;
}
@container (min-width: 80px) {
  .bare em {
    display: block;
  }
}
</style>
