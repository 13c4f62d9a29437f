<script setup lang="ts">
/** How much of something was played where one stopped. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

const props = defineProps<{ share: number }>()
const { t } = useI18n()
const percent = computed(() => Math.round(props.share * 100))
</script>

<template>
  <span class="share" role="img" :aria-label="t('marks.share', { n: percent })"
    ><i :style="{ inlineSize: `${percent}%` }"></i
  ></span>
</template>

<style scoped>
.share {
  display: block;
  height: 3px;
  background: var(--rule);
}
.share i {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
