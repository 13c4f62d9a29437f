<script setup lang="ts">
/** Filters that one may take into a search by a click. */
defineProps<{ offers: readonly string[] }>()
const emit = defineEmits<{ take: [filter: string] }>()
</script>

<template>
  <button
    v-for="one in offers"
    :key="one"
    type="button"
    class="pill mono"
    @mousedown.prevent="emit('take', one)"
  >
    {{ one }}
  </button>
</template>

<style scoped>
.pill.mono {
  height: 25px;
  padding: 0 8px;
  font: 12.5px var(--mono);
}
</style>
