<script setup lang="ts">
/** Who has an age sees more for four hours, in this browser, with the PIN. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t } = useI18n()
const client = useQueryClient()
const { data: status } = useStatus()
const pin = ref('')
const lifting = useMutation({
  mutationFn: (said: string) => ask(api.POST('/api/pin', { body: { pin: said } })),
  onSuccess: async () => {
    pin.value = ''
    await client.invalidateQueries()
  },
})
</script>

<template>
  <form class="row pin" @submit.prevent="lifting.mutate(pin)">
    <span class="soft">{{ t('people.bound', { n: status?.age ?? 0 }) }}</span>
    <template v-if="status?.is_lifted">
      <b>{{ t('people.lifted') }}</b>
      <button type="button" class="link" @click="lifting.mutate('')">
        {{ t('people.holdAgain') }}
      </button>
    </template>
    <template v-else-if="status?.has_pin">
      <input
        v-model="pin"
        inputmode="numeric"
        type="password"
        autocomplete="off"
        maxlength="12"
        :aria-label="t('people.pin')"
        :placeholder="t('people.pin')"
      />
      <button class="link" :disabled="!pin">{{ t('people.lift') }}</button>
    </template>
    <ProblemNote v-if="lifting.error.value" :error="lifting.error.value" />
  </form>
</template>

<style scoped>
.pin {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
}
input {
  width: 120px;
  height: 30px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
}
</style>
