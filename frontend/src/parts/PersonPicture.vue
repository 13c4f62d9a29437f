<script setup lang="ts">
/** A person's picture, or the first letter of their name where they have none. */
import { ref } from 'vue'

defineProps<{ personId: number; name: string; stamp?: number; large?: boolean }>()
const emit = defineEmits<{ missing: [] }>()
const has = ref(true)
function lack(): void {
  has.value = false
  emit('missing')
}
</script>

<template>
  <span class="face" :class="{ large }" aria-hidden="true"
    ><img
      v-if="has"
      :src="`/api/people/${personId}/picture${stamp ? `?at=${stamp}` : ''}`"
      alt=""
      @error="lack"
    /><template v-else>{{ [...name][0]?.toLocaleUpperCase() }}</template></span
  >
</template>

<style scoped>
.face {
  display: inline-grid;
  flex: none;
  place-items: center;
  width: 30px;
  height: 30px;
  overflow: hidden;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--accent-soft);
  color: var(--accent);
  font: 700 15px/1 var(--serif);
}
.large {
  width: 96px;
  height: 96px;
  font-size: 40px;
}
img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
</style>
