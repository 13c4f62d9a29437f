<script setup lang="ts">
/** Why a check looks, what it looks at, an example, and how loud it is in each library. */
import type { Check, Library } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import DiffName from '@/parts/DiffName.vue'
import CheckSettings from './CheckSettings.vue'

defineProps<{ check: Check; libraries: Library[] }>()
const { data: status } = useStatus()
</script>

<template>
  <div class="card reason">
    <p>{{ check.why }}</p>
    <p class="looks">{{ check.looks_at }}</p>
    <DiffName v-if="check.after" :before="check.before" :after="check.after" /><code v-else>{{
      check.before
    }}</code>
    <CheckSettings v-if="status?.manages" :slug="check.slug" :libraries="libraries" />
  </div>
</template>

<style scoped>
.reason {
  padding: 10px 14px;
  margin-bottom: 12px;
}
.looks {
  color: var(--ink-soft);
}
.reason p {
  margin: 0 0 8px;
  font: 15px/1.55 var(--serif);
  max-width: 70ch;
}
</style>
