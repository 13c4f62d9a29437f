<script setup lang="ts">
/** Offered while a recap, an opening or a closing runs: to go on behind it. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Playback } from '@/api/client'
import { useKeys } from '@/composables/useKeys'

const props = defineProps<{ told: Playback; now: number }>()
const emit = defineEmits<{ seek: [seconds: number]; next: [] }>()
const { t } = useI18n()
/** Who is within the last moment of it has as good as heard it out. */
const LAST_SECONDS = 1
const at = computed(() =>
  props.told.passages.find(
    (one) => one.start_seconds <= props.now && props.now < one.end_seconds - LAST_SECONDS,
  ),
)
/** Behind a closing there is the next episode, or what is shown after the names. */
const leads = computed(() => {
  const passage = at.value
  if (!passage) return ''
  const isLast = passage.end_seconds > props.told.duration_seconds - 5
  if (passage.kind !== 'closing') return passage.kind
  return isLast ? (props.told.next_entry_id ? 'next' : '') : 'closing'
})
function skip(): void {
  if (!at.value || !leads.value) return
  if (leads.value === 'next') emit('next')
  else emit('seek', at.value.end_seconds)
}
useKeys({ s: skip })
</script>

<template>
  <button v-if="leads" class="skip" data-test="skip" @click="skip">
    {{ t(`player.skip.${leads}`) }} <kbd>s</kbd>
  </button>
</template>

<style scoped>
.skip {
  appearance: none;
  padding: 9px 18px;
  border: 1px solid #9cc9c6;
  border-radius: 4px;
  background: #26231d;
  color: #f6f3ea;
  font: inherit;
  font-weight: 500;
  cursor: pointer;
}
.skip:hover,
.skip:focus-visible {
  background: #38332a;
}
kbd {
  margin-inline-start: 8px;
  color: #b9b09a;
  font: 12px var(--mono);
}
</style>
