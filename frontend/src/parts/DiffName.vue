<script setup lang="ts">
import { computed } from 'vue'
import { compareNames } from '@/composables/words'

const props = defineProps<{ before: string; after: string }>()
const pieces = computed(() => compareNames(props.before, props.after))
</script>

<template>
  <span class="diff">
    <span class="before"
      ><component
        :is="piece.changed ? 'del' : 'span'"
        v-for="(piece, index) in pieces.before"
        :key="index"
        >{{ piece.text }}</component
      ></span
    >
    <span class="after"
      ><component
        :is="piece.changed ? 'ins' : 'span'"
        v-for="(piece, index) in pieces.after"
        :key="index"
        >{{ piece.text }}</component
      ></span
    >
  </span>
</template>

<style scoped>
.diff {
  display: block;
  font-family: var(--mono);
  font-size: 12.5px;
  line-height: 1.5;
}
.before,
.after {
  display: block;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
.before {
  color: var(--ink-faint);
}
.after {
  font-weight: 500;
}
del {
  background: var(--stamp-soft);
  color: var(--stamp);
  text-decoration-thickness: 1px;
}
ins {
  background: var(--moss-soft);
  text-decoration: none;
}
</style>
