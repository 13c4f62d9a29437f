<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { TwinFile } from '@/api/client'

defineProps<{ one: TwinFile; other: TwinFile }>()
const { t } = useI18n()
const at = ref(50)
const source = (file: TwinFile) => `/api/pictures/${file.picture?.digest ?? ''}/1280`
</script>

<template>
  <div class="wiper">
    <div class="pair">
      <img :src="source(one)" :alt="one.path" />
      <img class="over" :src="source(other)" :alt="other.path" :style="{ '--at': `${at}%` }" />
    </div>
    <input v-model.number="at" type="range" min="0" max="100" :aria-label="t('twice.wipe')" />
  </div>
</template>

<style scoped>
.wiper {
  display: flex;
  flex-direction: column;
  gap: 6px;
  max-width: 720px;
}
.pair {
  position: relative;
  line-height: 0;
}
.pair img {
  width: 100%;
  max-height: 60vh;
  object-fit: contain;
  background: var(--desk);
}
.over {
  position: absolute;
  inset: 0;
  height: 100%;
  clip-path: inset(0 0 0 var(--at));
}
input {
  accent-color: var(--ink);
}
</style>
