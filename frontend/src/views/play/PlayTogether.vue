<script setup lang="ts">
/** Who watches along, and what was done last. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Party } from '@/api/client'

const props = defineProps<{ party?: Party; isOver: boolean }>()
const emit = defineEmits<{ leave: [] }>()
const { t, locale } = useI18n()
const names = computed(() =>
  new Intl.ListFormat(locale.value, { type: 'conjunction' }).format(props.party?.names ?? []),
)
</script>

<template>
  <div class="together" role="status" data-test="together">
    <template v-if="party">
      <b>{{ party.names.length > 1 ? names : t('together.alone') }}</b>
      <span v-if="party.is_paused">{{ t('together.stopped', { name: party.changed_by }) }}</span>
    </template>
    <span v-else>{{ t(isOver ? 'together.over' : 'player.waits') }}</span>
    <button class="act" data-test="leave-together" @click="emit('leave')">
      {{ t('together.leave') }}
    </button>
  </div>
</template>

<style scoped>
.together {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  padding: 7px 14px;
  border: 1px solid #544c3c;
  border-radius: 4px;
  background: rgb(38 35 29 / 94%);
  color: #c2b9a5;
}
b {
  font-weight: 500;
  color: #f6f3ea;
}
.act {
  appearance: none;
  padding: 0;
  border: 0;
  background: none;
  color: #9cd3d3;
  font: inherit;
  cursor: pointer;
}
</style>
