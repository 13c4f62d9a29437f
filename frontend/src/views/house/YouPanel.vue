<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { forgetQueue } from '@/composables/usePlayer'
import { useStatus } from '@/composables/useStatus'
import { deviceName, moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'
import PinRow from './PinRow.vue'

const { t, locale } = useI18n()
const router = useRouter()
const client = useQueryClient()
const { data: status } = useStatus()
const { data } = useQuery({ queryKey: ['sessions'], queryFn: () => ask(api.GET('/api/sessions')) })
/** What was seen last; older ones when somebody asks. */
const FIRST = 6
const whole = ref(false)
const shown = computed(() => (data.value?.sessions ?? []).slice(0, whole.value ? undefined : FIRST))
const older = computed(() => (data.value?.sessions.length ?? 0) - shown.value.length)
const changing = ref(false)
const old = ref('')
const fresh = ref('')

const change = useMutation({
  mutationFn: () => ask(api.POST('/api/password', { body: { old: old.value, new: fresh.value } })),
  onSuccess: async () => {
    changing.value = false
    old.value = fresh.value = ''
    ElMessage({ message: t('you.changed'), type: 'success' })
    await client.invalidateQueries({ queryKey: ['sessions'] })
  },
})
async function end(id: number): Promise<void> {
  await ask(
    api.DELETE('/api/sessions/{session_id}', { params: { path: { session_id: id } } }),
  ).catch((reason: Error) => ElMessage({ message: reason.message, type: 'warning' }))
  await client.invalidateQueries({ queryKey: ['sessions'] })
}
async function signOut(): Promise<void> {
  await ask(api.DELETE('/api/session'))
  client.clear()
  forgetQueue()
  await router.replace('/welcome')
  location.reload()
}
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.you') }}</h2>
    </div>
    <div class="card">
      <p class="row you">
        <b>{{ status?.person }}</b>
        <span class="faint">Indice {{ status?.version }}</span>
        <button class="link" :aria-expanded="changing" @click="changing = !changing">
          {{ t('you.password') }}
        </button>
        <button class="link" @click="signOut">{{ t('app.signOut') }}</button>
      </p>
      <PinRow v-if="status && status.age !== null && !status.manages" />
      <p class="row you">
        <span>{{ t('marks.takeAlong') }}</span>
        <span></span>
        <a href="/api/marks/file?form=csv" download class="mono">CSV</a>
        <a href="/api/marks/file?form=jsonld" download class="mono">JSON-LD</a>
      </p>
      <form v-if="changing" class="row change" @submit.prevent="change.mutate()">
        <label>
          {{ t('you.old') }}
          <el-input
            v-model="old"
            name="old"
            type="password"
            autocomplete="current-password"
            show-password
          />
        </label>
        <label>
          {{ t('you.new') }}
          <el-input
            v-model="fresh"
            name="new"
            type="password"
            autocomplete="new-password"
            show-password
          />
        </label>
        <el-button
          type="primary"
          native-type="submit"
          :loading="change.isPending.value"
          :disabled="!old || fresh.length < 8"
        >
          {{ t('you.change') }}
        </el-button>
        <p class="faint hint">{{ t('you.hint') }}</p>
        <ProblemNote v-if="change.error.value" class="hint" :error="change.error.value" />
      </form>
      <p v-for="one in shown" :key="one.id" class="row">
        <span class="what">
          {{ deviceName(one.device) || t('you.unknown') }}
          <span class="mono soft">{{ one.address }}</span>
        </span>
        <span class="soft">{{
          one.is_this ? t('you.here') : t('you.seen', { date: moment(one.seen_at, locale) })
        }}</span>
        <button v-if="!one.is_this" class="link" @click="end(one.id)">{{ t('you.end') }}</button>
        <span v-else class="faint">{{
          t('you.since', { date: moment(one.created_at, locale) })
        }}</span>
      </p>
      <p v-if="older > 0" class="row">
        <button class="link" @click="whole = true">{{ t('today.more', { n: older }) }}</button>
      </p>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto minmax(150px, auto);
  gap: 4px 24px;
  align-items: center;
  margin: 0;
  padding: 8px 14px;
  border-bottom: 1px solid var(--rule);
}
.row:last-child {
  border: 0;
}
.row > :last-child {
  justify-self: end;
}
.you {
  grid-template-columns: auto 1fr auto auto;
  align-items: baseline;
}
.change {
  grid-template-columns: 1fr 1fr auto;
  align-items: end;
}
.change label {
  display: flex;
  flex-direction: column;
  gap: 3px;
}
.hint {
  grid-column: 1 / -1;
  justify-self: start !important;
  margin: 0;
}
.what {
  display: flex;
  gap: 12px;
  align-items: baseline;
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  .row,
  .change {
    grid-template-columns: 1fr auto;
  }
  .change label,
  .what {
    grid-column: 1 / -1;
  }
}
</style>
