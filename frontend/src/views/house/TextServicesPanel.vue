<script setup lang="ts">
/** Services of subtitles: added by a profile, tried, forgotten. A key goes in and never comes out again. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type TextService } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t } = useI18n()
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['text-services'],
  queryFn: () => ask(api.GET('/api/text-services')),
})
const START = 'name = ""\nserves = "subtitles"\nurl = "https://"\nlanguages = ["en"]\n'
const open = ref(false)
const profile = ref(START)
const key = ref('')
const problem = ref<{ id: number; error: unknown }>()
const refresh = () => client.invalidateQueries({ queryKey: ['text-services'] })
const putting = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/text-services', { body: { profile: profile.value, key: key.value || null } }),
    ),
  onSuccess: async () => {
    open.value = false
    profile.value = START
    key.value = ''
    await refresh()
  },
})
const at = (service: TextService) => ({ params: { path: { service_id: service.id } } })
async function act(service: TextService, work: () => Promise<unknown>): Promise<void> {
  problem.value = undefined
  await work().catch((reason: unknown) => (problem.value = { id: service.id, error: reason }))
  await refresh()
}
const test = (service: TextService) =>
  act(service, async () => {
    const said = await ask(api.POST('/api/text-services/{service_id}/test', at(service)))
    ElMessage({ message: said.message, type: 'success', duration: 5000 })
  })
const remove = (service: TextService) =>
  act(service, () => ask(api.DELETE('/api/text-services/{service_id}', at(service))))
function edit(service: TextService): void {
  profile.value = service.profile
  open.value = true
}
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('texts.services') }}</h2>
      <el-button @click="open = !open">{{ open ? t('house.cancel') : t('texts.add') }}</el-button>
    </div>
    <form v-if="open" class="card adding" @submit.prevent="putting.mutate()">
      <label
        >{{ t('house.profile') }}<span class="faint">{{ t('texts.profileHint') }}</span
        ><el-input
          v-model="profile"
          type="textarea"
          :rows="5"
          class="mono"
          spellcheck="false"
          data-test="text-profile"
      /></label>
      <label
        >{{ t('house.key') }}<el-input v-model="key" type="password" autocomplete="off"
      /></label>
      <ProblemNote v-if="putting.error.value" :error="putting.error.value" />
      <el-button
        type="primary"
        native-type="submit"
        :loading="putting.isPending.value"
        data-test="add-text-service"
        >{{ t('house.add') }}</el-button
      >
    </form>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div class="card">
      <div v-for="service in data?.services ?? []" :key="service.id" class="service">
        <div>
          <b>{{ service.name }}</b> <span class="mono soft">{{ service.url }}</span>
          <span class="line" :class="{ wrong: service.problem }">{{
            service.problem || (service.checked_at ? t('house.fine') : t('house.untested'))
          }}</span>
        </div>
        <span class="soft">{{ service.has_key ? t('house.keySet') : t('house.keyNone') }}</span>
        <span class="acts"
          ><button class="link" @click="edit(service)">{{ t('house.profile') }}</button
          ><button class="link" @click="test(service)">{{ t('house.test') }}</button
          ><button class="link" @click="remove(service)">{{ t('house.forget') }}</button></span
        >
        <ProblemNote v-if="problem?.id === service.id" :error="problem.error" class="wide" />
      </div>
      <p v-if="data && !data.services.length" class="pad soft">{{ t('texts.noServices') }}</p>
    </div>
  </section>
</template>

<style scoped>
.adding {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: start;
  margin-bottom: 14px;
  padding: 16px;
}
label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  width: 100%;
  font-size: 13px;
}
.service {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 24px;
  align-items: center;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.service:last-child {
  border: 0;
}
b {
  font: 700 14.5px var(--serif);
}
.line {
  display: block;
  color: var(--ink-soft);
  font-size: 12.5px;
}
.wrong {
  color: var(--stamp);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.wide {
  grid-column: 1 / -1;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
@media (max-width: 860px) {
  .service {
    grid-template-columns: 1fr;
  }
}
</style>
