<script setup lang="ts">
/** What a television shows: a code, and the picture of its address; it waits until somebody has confirmed it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { fetchStatus } from '@/composables/useStatus'
import ProblemNote from '@/parts/ProblemNote.vue'

const ASK_MS = 3_200
const { t } = useI18n()
const router = useRouter()
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['television'],
  queryFn: () => ask(api.POST('/api/device/code', { body: { device: '' } })),
  staleTime: Infinity,
  gcTime: 0,
  retry: false,
})
const ended = ref<'access_denied' | 'expired_token'>()
const page = computed(() => data.value?.verification_uri.replace(/^https?:\/\//, '') ?? '')
useIntervalFn(async () => {
  if (!data.value || ended.value) return
  const { response, error: said } = await api
    .POST('/api/device/token', {
      body: {
        device_code: data.value.device_code,
        grant_type: 'urn:ietf:params:oauth:grant-type:device_code',
      },
    })
    .catch(() => ({ response: undefined, error: undefined }))
  if (response?.ok) {
    client.removeQueries({ predicate: (query) => query.queryKey[0] !== 'status' })
    await client.fetchQuery({ queryKey: ['status'], queryFn: fetchStatus, staleTime: 0 })
    await router.replace('/catalog')
    return
  }
  const why = (said as { reference?: string } | undefined)?.reference
  if (why === 'access_denied' || why === 'expired_token') ended.value = why
}, ASK_MS)
async function again(): Promise<void> {
  ended.value = undefined
  await refetch()
}
</script>

<template>
  <main class="television">
    <ProblemNote v-if="error" :error="error" :retry="again" />
    <section v-else-if="ended" class="card">
      <h1>{{ t(`device.${ended}`) }}</h1>
      <el-button type="primary" size="large" autofocus @click="again">{{
        t('device.again')
      }}</el-button>
    </section>
    <section v-else-if="data" class="card">
      <img :src="data.picture" :alt="t('invite.picture')" width="240" height="240" />
      <div>
        <h1 class="only-said">{{ t('device.title') }}</h1>
        <p class="tab">Indice</p>
        <p>{{ t('device.lead') }}</p>
        <p class="mono where">{{ page }}</p>
        <p>{{ t('device.andSay') }}</p>
        <p class="code mono" data-test="user-code">{{ data.user_code }}</p>
        <p class="soft">{{ t('device.waits') }}</p>
        <RouterLink to="/welcome">{{ t('device.password') }}</RouterLink>
      </div>
    </section>
  </main>
</template>

<style scoped>
.television {
  display: grid;
  place-content: center;
  min-height: 100vh;
  padding: 24px;
  font-size: 19px;
}
.card {
  display: flex;
  flex-wrap: wrap;
  gap: 34px;
  align-items: center;
  justify-content: center;
  max-width: 820px;
  padding: 34px 40px;
}
img {
  background: #fff;
  border-radius: 3px;
}
p {
  margin: 0 0 8px;
}
.tab {
  font: 700 19px var(--serif);
  color: var(--accent);
}
.where {
  font-size: 19px;
  overflow-wrap: anywhere;
}
.code {
  font-size: 54px;
  line-height: 1.15;
  letter-spacing: 0.08em;
}
</style>
