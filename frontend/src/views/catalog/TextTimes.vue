<script setup lang="ts">
/** Times of a text: moved and stretched by hand, or fitted to where voices are heard. */
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type TextDraft } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ entryId: number; textId: number }>()
const emit = defineEmits<{ drafted: [draft: TextDraft] }>()
const { t } = useI18n()
const offset = ref(0)
const stretch = ref(1)
const params = computed(() => ({ path: { entry_id: props.entryId, text_id: props.textId } }))
/** Films made for one rate of pictures and played at another. */
const STRETCHES = [
  { value: 1, label: '1' },
  { value: 25 / 23.976, label: '23.976 → 25' },
  { value: 23.976 / 25, label: '25 → 23.976' },
  { value: 25 / 24, label: '24 → 25' },
  { value: 24 / 25, label: '25 → 24' },
]
const isOwn = computed(() => !STRETCHES.some((one) => Math.abs(one.value - stretch.value) < 1e-4))
const listening = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/entries/{entry_id}/subtitles/{text_id}/listen', {
        params: params.value,
        body: { file_id: null },
      }),
    ),
  onSuccess: (found) => {
    if (!found.is_sure) return
    offset.value = found.offset_seconds
    const near = STRETCHES.find((one) => Math.abs(one.value - found.stretch) < 1e-4)
    stretch.value = near?.value ?? found.stretch
  },
})
const drafting = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/entries/{entry_id}/subtitles/{text_id}/times', {
        params: params.value,
        body: { offset_seconds: offset.value, stretch: stretch.value },
      }),
    ),
  onSuccess: (made) => emit('drafted', made),
})
const isNothing = computed(() => !offset.value && Math.abs(stretch.value - 1) < 1e-6)
</script>

<template>
  <form class="times" @submit.prevent="drafting.mutate()">
    <label
      >{{ t('texts.offset')
      }}<input
        v-model.number="offset"
        type="number"
        step="0.1"
        class="field mono"
        data-test="text-offset"
    /></label>
    <label
      >{{ t('texts.stretch')
      }}<select v-model.number="stretch" class="field mono">
        <option v-for="one in STRETCHES" :key="one.label" :value="one.value">
          {{ one.label }}
        </option>
        <option v-if="isOwn" :value="stretch">{{ stretch }}</option>
      </select></label
    >
    <el-button
      :loading="listening.isPending.value"
      data-test="listen"
      @click="listening.mutate()"
      >{{ t('texts.listen') }}</el-button
    >
    <el-button
      native-type="submit"
      type="primary"
      :disabled="isNothing"
      :loading="drafting.isPending.value"
      data-test="draft-times"
      >{{ t('texts.draftTimes') }}</el-button
    >
    <p v-if="listening.data.value" class="said" role="status">
      {{ t(listening.data.value.is_sure ? 'texts.heard' : 'texts.notHeard') }}
    </p>
    <ProblemNote v-if="listening.error.value" :error="listening.error.value" class="said" />
    <ProblemNote v-if="drafting.error.value" :error="drafting.error.value" class="said" />
  </form>
</template>

<style scoped>
.times {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: end;
  padding: 6px 0;
}
label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  color: var(--ink-soft);
  font-size: 13px;
}
.field[type='number'] {
  width: 110px;
}
.said {
  flex-basis: 100%;
  margin: 0;
  font-size: 13px;
  color: var(--ink-soft);
}
.el-button {
  margin: 0;
}
</style>
