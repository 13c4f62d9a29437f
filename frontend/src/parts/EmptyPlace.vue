<script setup lang="ts">
defineProps<{ title: string; how?: string }>()
</script>

<template>
  <div class="empty">
    <p class="what">{{ title }}</p>
    <p v-if="how" class="soft">{{ how }}</p>
    <slot />
  </div>
</template>

<style scoped>
.empty {
  max-width: 460px;
  padding: 30px 24px 26px;
  margin: 32px auto;
  text-align: center;
  background: repeating-linear-gradient(var(--card) 0 27px, var(--rule) 27px 28px);
  border: 1px solid var(--rule);
  border-radius: 4px;
}
.what {
  font: 700 17px/28px var(--serif);
  margin: 0;
}
p {
  margin: 0;
  line-height: 28px;
}
</style>
