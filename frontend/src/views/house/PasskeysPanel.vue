<script setup lang="ts">
/** Passkeys of one's own: made in this device, ended when it is gone. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { canHavePasskeys, makePasskey } from '@/composables/usePasskeys'
import { deviceName, moment } from '@/composables/words'

const { t, locale } = useI18n()
const client = useQueryClient()
const can = canHavePasskeys()
const { data } = useQuery({ queryKey: ['passkeys'], queryFn: () => ask(api.GET('/api/passkeys')) })
const name = ref(deviceName(navigator.userAgent))
const renew = () => client.invalidateQueries({ queryKey: ['passkeys'] })
const warn = (reason: Error) =>
  ElMessage({ message: reason.message || t('passkey.notMade'), type: 'warning' })
const making = useMutation({
  mutationFn: () => makePasskey(name.value.trim() || t('you.unknown')),
  onSuccess: renew,
  onError: warn,
})
const ending = useMutation({
  mutationFn: (id: number) =>
    ask(api.DELETE('/api/passkeys/{passkey_id}', { params: { path: { passkey_id: id } } })),
  onSuccess: renew,
  onError: warn,
})
</script>

<template>
  <section data-test="passkeys">
    <div class="head">
      <h2>{{ t('passkey.title') }}</h2>
    </div>
    <div class="card">
      <p v-for="one in data?.passkeys ?? []" :key="one.id" class="row">
        <b>{{ one.name }}</b>
        <span class="soft">{{
          one.seen_at
            ? t('you.seen', { date: moment(one.seen_at, locale) })
            : t('you.since', { date: moment(one.made_at, locale) })
        }}</span>
        <button class="link" @click="ending.mutate(one.id)">{{ t('passkey.remove') }}</button>
      </p>
      <form v-if="can" class="row" @submit.prevent="making.mutate()">
        <input v-model="name" maxlength="120" :aria-label="t('passkey.name')" />
        <span class="soft">{{ t('passkey.what') }}</span>
        <el-button
          native-type="submit"
          :loading="making.isPending.value"
          data-test="make-passkey"
          >{{ t('passkey.make') }}</el-button
        >
      </form>
      <p v-else class="row soft">
        <span>{{ t('passkey.cannot') }}</span>
      </p>
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
  min-height: 34px;
  margin-bottom: 8px;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto minmax(72px, auto);
  gap: 4px 22px;
  align-items: center;
  margin: 0;
  padding: 8px 14px;
  border-bottom: 1px solid var(--rule);
}
.row:last-child {
  border: 0;
}
.row > :last-child:not(:first-child) {
  justify-self: end;
}
input {
  height: 32px;
  min-width: 0;
  max-width: 320px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
}
</style>
