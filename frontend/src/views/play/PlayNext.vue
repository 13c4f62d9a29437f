<script setup lang="ts">
/** What comes next, and when; it can be stopped. */
import { useQuery } from '@tanstack/vue-query'
import { onBeforeUnmount, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'

const props = defineProps<{ entryId: number }>()
const emit = defineEmits<{ go: []; stay: [] }>()
const { t } = useI18n()
const left = ref(10)
const ticking = setInterval(() => {
  if (--left.value <= 0) emit('go')
}, 1000)
onBeforeUnmount(() => clearInterval(ticking))
const { data } = useQuery({
  queryKey: ['entry', () => props.entryId],
  queryFn: () =>
    ask(api.GET('/api/entries/{entry_id}', { params: { path: { entry_id: props.entryId } } })),
})
</script>

<template>
  <div class="next" role="dialog" :aria-label="t('player.next')">
    <p>
      {{ t('player.nextIn', { n: left }) }} <b>{{ data?.card.title }}</b>
    </p>
    <button class="act" data-test="go-next" @click="emit('go')">{{ t('player.nextNow') }}</button>
    <button class="act quiet" data-test="stay" @click="emit('stay')">{{ t('player.stay') }}</button>
  </div>
</template>

<style scoped>
.next {
  max-width: 360px;
  padding: 14px 18px;
  border: 1px solid #544c3c;
  border-radius: 4px;
  background: #26231d;
}
p {
  margin: 0 0 10px;
  color: #c2b9a5;
}
b {
  display: block;
  font: 700 16px/1.4 var(--serif);
  color: #f6f3ea;
}
.act {
  appearance: none;
  margin-inline-end: 8px;
  padding: 5px 12px;
  border: 1px solid #9cc9c6;
  border-radius: 3px;
  background: none;
  cursor: pointer;
}
.quiet {
  border-color: #544c3c;
  color: #c2b9a5;
}
</style>
