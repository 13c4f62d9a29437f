<script setup lang="ts">
/** One's own page, for who does not keep the house: password, browsers, the PIN. */
import YouPanel from './YouPanel.vue'
</script>

<template>
  <div class="page"><YouPanel /></div>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 20px 24px 40px;
}
</style>
