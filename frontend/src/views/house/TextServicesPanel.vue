<script setup lang="ts">
/** Services of subtitles: added by a profile, tried, forgotten. A key goes in and never comes out again. */
import { useMutation, useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type TextService } from '@/api/client'
import { useServices } from '@/composables/useServices'
import ProblemNote from '@/parts/ProblemNote.vue'
import ServiceForm from './ServiceForm.vue'
import ServiceRow from './ServiceRow.vue'

const { t } = useI18n()
const { data, error, refetch } = useQuery({
  queryKey: ['text-services'],
  queryFn: () => ask(api.GET('/api/text-services')),
})
const START = 'name = ""\nserves = "subtitles"\nurl = "https://"\nlanguages = ["en"]\n'
const open = ref(false)
const profile = ref(START)
const key = ref('')
const { problem, refresh, tell, forget } = useServices('text-services')
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
const test = (service: TextService) =>
  tell(service, () => ask(api.POST('/api/text-services/{service_id}/test', at(service))))
const remove = (service: TextService) =>
  forget(service, t('texts.forget', { name: service.name }), () =>
    ask(api.DELETE('/api/text-services/{service_id}', at(service))),
  )
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
    <ServiceForm
      v-if="open"
      v-model:profile="profile"
      v-model:secret="key"
      :hint="t('texts.profileHint')"
      :rows="5"
      :pending="putting.isPending.value"
      :error="putting.error.value"
      test="text-profile"
      @add="putting.mutate()"
    />
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div class="card">
      <ServiceRow
        v-for="service in data?.services ?? []"
        :key="service.id"
        :service="service"
        :error="problem?.id === service.id ? problem.error : undefined"
      >
        <template #acts
          ><button class="link" @click="edit(service)">{{ t('house.profile') }}</button
          ><button class="link" @click="test(service)">{{ t('house.test') }}</button
          ><button class="link" @click="remove(service)">{{ t('house.forget') }}</button></template
        >
      </ServiceRow>
      <p v-if="data && !data.services.length" class="pad soft">{{ t('texts.noServices') }}</p>
    </div>
  </section>
</template>

<style scoped>
.pad {
  margin: 0;
  padding: 10px 14px;
}
</style>
