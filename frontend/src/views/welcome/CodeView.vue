<script setup lang="ts">
/** Confirms the code that a television shows: it is then signed in as who confirmed it. */
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { deviceName } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t } = useI18n()
const route = useRoute()
const { data: status } = useStatus()
const typed = ref(typeof route.params.code === 'string' ? route.params.code : '')
const code = ref(typed.value)
const { data, error } = useQuery({
  queryKey: ['device', code],
  queryFn: () =>
    ask(api.GET('/api/device/waiting/{code}', { params: { path: { code: code.value } } })),
  enabled: () => code.value.length >= 6,
  retry: false,
})
const answering = useMutation({
  mutationFn: (allow: boolean) =>
    ask(api.POST('/api/device/answer', { body: { user_code: code.value, allow } })),
})
const came = computed(() => (answering.isSuccess.value ? answering.variables.value : undefined))
</script>

<template>
  <div class="page">
    <h1>{{ t('device.title') }}</h1>
    <section class="card">
      <p v-if="came !== undefined" role="status">
        {{ came ? t('device.came', { name: status?.person ?? '' }) : t('device.refused') }}
      </p>
      <template v-else-if="data">
        <p>
          {{ t('device.is') }}
          <b>{{ deviceName(data.device) || data.device || t('you.unknown') }}</b>
          <span class="mono soft">{{ data.address }}</span>
        </p>
        <p class="soft">{{ t('device.sure', { name: status?.person ?? '' }) }}</p>
        <p class="acts">
          <el-button type="primary" data-test="allow" @click="answering.mutate(true)">{{
            t('device.allow')
          }}</el-button>
          <el-button @click="answering.mutate(false)">{{ t('device.deny') }}</el-button>
        </p>
        <ProblemNote v-if="answering.error.value" :error="answering.error.value" />
      </template>
      <form v-else @submit.prevent="code = typed.trim()">
        <label
          >{{ t('device.type')
          }}<input
            v-model="typed"
            name="code"
            class="mono"
            maxlength="7"
            autocomplete="off"
            autocapitalize="characters"
            placeholder="ABC-DEF"
            autofocus
        /></label>
        <el-button native-type="submit" type="primary" :disabled="typed.trim().length < 6">{{
          t('device.look')
        }}</el-button>
        <ProblemNote v-if="error" :error="error" class="wide" />
      </form>
    </section>
  </div>
</template>

<style scoped>
.page {
  max-width: 560px;
  margin: 0 auto;
  padding: 24px;
}
.card {
  padding: 16px 20px;
}
p {
  margin: 0 0 10px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
}
label {
  display: flex;
  flex-direction: column;
  gap: 5px;
}
input {
  width: 170px;
  height: 44px;
  padding: 0 12px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font-size: 20px;
  letter-spacing: 0.12em;
  text-transform: uppercase;
}
form .el-button {
  height: 44px;
}
.wide {
  width: 100%;
}
.acts {
  display: flex;
  gap: 10px;
  margin: 0;
}
</style>
