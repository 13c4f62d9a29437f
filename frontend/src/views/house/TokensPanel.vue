<script setup lang="ts">
/** Secrets for one's own scripts, each with what it may do; a secret is shown once. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { useClipboard } from '@vueuse/core'
import { ElMessage } from 'element-plus'
import { reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const SCOPES = ['see', 'mark', 'manage'] as const
const { t, locale } = useI18n()
const client = useQueryClient()
const { data: status } = useStatus()
const { data } = useQuery({ queryKey: ['tokens'], queryFn: () => ask(api.GET('/api/tokens')) })
const open = ref(false)
const form = reactive({ name: '', scopes: ['see'] as (typeof SCOPES)[number][], days: 365 })
const { copy, copied } = useClipboard({ legacy: true })
const renew = () => client.invalidateQueries({ queryKey: ['tokens'] })
const making = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/tokens', {
        body: { name: form.name.trim(), scopes: form.scopes, days: form.days || null },
      }),
    ),
  onSuccess: renew,
})
const ending = useMutation({
  mutationFn: (id: number) =>
    ask(api.DELETE('/api/tokens/{token_id}', { params: { path: { token_id: id } } })),
  onSuccess: renew,
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
function toggle(): void {
  making.reset()
  form.name = ''
  open.value = !open.value
}
</script>

<template>
  <section data-test="tokens">
    <div class="head">
      <h2>{{ t('token.title') }}</h2>
      <span class="heads"
        ><RouterLink to="/code" class="link">{{ t('device.title') }}</RouterLink
        ><el-button @click="toggle">{{
          open ? t('house.cancel') : t('token.make')
        }}</el-button></span
      >
    </div>
    <div class="card">
      <div v-if="open && making.data.value" class="fields inset">
        <p class="wide">{{ t('token.once') }}</p>
        <p class="mono secret wide" data-test="token-secret">{{ making.data.value.secret }}</p>
        <p class="wide">
          <el-button @click="copy(making.data.value.secret)">{{
            copied ? t('invite.copied') : t('token.copy')
          }}</el-button>
        </p>
      </div>
      <form v-else-if="open" class="fields inset" @submit.prevent="making.mutate()">
        <label
          >{{ t('token.name')
          }}<input
            v-model="form.name"
            name="token-name"
            maxlength="120"
            :placeholder="t('token.what')"
        /></label>
        <fieldset>
          <legend>{{ t('token.may') }}</legend>
          <template v-for="scope in SCOPES" :key="scope"
            ><label v-if="scope !== 'manage' || status?.manages" class="tick"
              ><input v-model="form.scopes" type="checkbox" :value="scope" />
              {{ t(`token.scope.${scope}`) }}</label
            ></template
          >
        </fieldset>
        <label
          >{{ t('token.lasts') }}
          <select v-model="form.days">
            <option :value="30">{{ t('invite.days', 30) }}</option>
            <option :value="365">{{ t('invite.days', 365) }}</option>
            <option :value="0">{{ t('token.always') }}</option>
          </select></label
        >
        <ProblemNote v-if="making.error.value" :error="making.error.value" class="wide" />
        <p class="wide">
          <el-button
            native-type="submit"
            type="primary"
            :disabled="!form.name.trim() || !form.scopes.length"
            >{{ t('token.make') }}</el-button
          >
        </p>
      </form>
      <p v-for="one in data?.tokens ?? []" :key="one.id" class="lined row">
        <span class="named"
          ><b>{{ one.name }}</b>
          <span class="soft">{{
            one.scopes.map((scope) => t(`token.scope.${scope}`)).join(', ')
          }}</span></span
        >
        <span class="soft">{{
          one.seen_at
            ? t('token.used', { date: moment(one.seen_at, locale), address: one.address })
            : t('token.unused')
        }}</span>
        <button class="link end" @click="ending.mutate(one.id)">{{ t('token.end') }}</button>
      </p>
      <p v-if="data && !data.tokens.length && !open" class="lined soft">{{ t('token.none') }}</p>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-top: 28px;
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 34px;
  margin-bottom: 8px;
}
.heads {
  display: flex;
  gap: 18px;
  align-items: center;
}
.secret {
  padding: 8px 10px;
  border: 1px dashed var(--rule-strong);
  background: var(--card);
  overflow-wrap: anywhere;
  user-select: all;
}
.row {
  grid-template-columns: minmax(0, 1fr) auto minmax(60px, auto);
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .named {
    grid-column: 1 / -1;
  }
}
</style>
