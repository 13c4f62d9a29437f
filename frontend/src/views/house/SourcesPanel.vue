<script setup lang="ts">
/** Metadata sources in the order in which they are asked. A key goes in and never comes out again. */
import { useMutation, useQuery } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Source } from '@/api/client'
import { useServices } from '@/composables/useServices'
import ProblemNote from '@/parts/ProblemNote.vue'
import ServiceForm from './ServiceForm.vue'
import ServiceRow from './ServiceRow.vue'
import SourceLook from './SourceLook.vue'

const { t } = useI18n()
const { data, error, refetch } = useQuery({
  queryKey: ['sources'],
  queryFn: () => ask(api.GET('/api/sources')),
})
const { problem, refresh, act, tell, forget } = useServices('sources')
const adding = ref(false)
const isDrafted = ref(false)
const profile = ref('')
const key = ref('')
/** Sources whose profile, and whose key, are written just now. */
const open = ref<number>()
const keyed = ref<number>()
const at = (source: Source) => ({ params: { path: { source_id: source.id } } })
const put = (secret: string | null) =>
  ask(api.POST('/api/sources', { body: { profile: profile.value, key: secret } }))
const putting = useMutation({
  mutationFn: () => put(key.value || null),
  onSuccess: async () => {
    adding.value = isDrafted.value = false
    profile.value = key.value = ''
    await refresh()
  },
})
function first(source: Source): Promise<boolean> {
  const others = (data.value?.sources ?? []).map(({ id }) => id).filter((id) => id !== source.id)
  return act(source, () =>
    ask(api.PUT('/api/sources/order', { body: { ids: [source.id, ...others] } })),
  )
}
const test = (source: Source) =>
  tell(source, () => ask(api.POST('/api/sources/{source_id}/test', at(source))))
const remove = (source: Source) =>
  forget(source, t('house.sourceForget', { name: source.name }), () =>
    ask(api.DELETE('/api/sources/{source_id}', at(source))),
  )
function edit(source: Source): void {
  open.value = open.value === source.id ? undefined : source.id
  profile.value = source.profile
}
async function rewrite(source: Source): Promise<void> {
  if (await act(source, () => put(null))) open.value = undefined
}
async function saveKey(source: Source): Promise<void> {
  const body = { key: key.value }
  const isKept = await act(source, () =>
    ask(api.PUT('/api/sources/{source_id}/key', { ...at(source), body })),
  )
  if (!isKept) return
  ElMessage({ message: t('house.kept'), type: 'success' })
  key.value = ''
  keyed.value = undefined
}
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.sources') }}</h2>
      <el-button @click="adding = !adding">{{
        adding ? t('house.cancel') : t('house.addSource')
      }}</el-button>
    </div>
    <ServiceForm
      v-if="adding"
      v-model:profile="profile"
      v-model:secret="key"
      :hint="t('house.profileHint')"
      :rows="isDrafted ? 18 : 9"
      :pending="putting.isPending.value"
      :error="putting.error.value"
      test="source-profile"
      @add="putting.mutate()"
    >
      <SourceLook :secret="key" @found="((profile = $event.profile), (isDrafted = true))" />
    </ServiceForm>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div class="card">
      <ServiceRow
        v-for="source in data?.sources ?? []"
        :key="source.id"
        class="source"
        :service="source"
        :error="problem?.id === source.id ? problem.error : undefined"
      >
        <template v-if="source.unknown_fields.length" #more>{{
          t('house.unknownFields', { fields: source.unknown_fields.join(', ') })
        }}</template>
        <template #acts
          ><button
            v-if="data && data.sources[0]?.id !== source.id"
            class="link"
            @click="first(source)"
          >
            {{ t('house.askFirst') }}</button
          ><button class="link" :aria-expanded="open === source.id" @click="edit(source)">
            {{ t('house.profile') }}</button
          ><button class="link" @click="test(source)">{{ t('house.test') }}</button
          ><button
            class="link"
            :aria-expanded="keyed === source.id"
            @click="keyed = keyed === source.id ? undefined : source.id"
          >
            {{ t('house.keyNew') }}</button
          ><button class="link" @click="remove(source)">{{ t('house.forget') }}</button></template
        >
        <form v-if="open === source.id" class="profile" @submit.prevent="rewrite(source)">
          <el-input
            v-model="profile"
            type="textarea"
            :rows="16"
            class="mono"
            spellcheck="false"
            :aria-label="t('house.profile')"
          /><el-button native-type="submit" type="primary">{{ t('convention.save') }}</el-button>
        </form>
        <form v-if="keyed === source.id" class="key" @submit.prevent="saveKey(source)">
          <el-input
            v-model="key"
            type="password"
            autocomplete="off"
            :aria-label="t('house.key')"
          /><el-button native-type="submit" type="primary">{{ t('house.keySave') }}</el-button>
        </form>
      </ServiceRow>
      <p v-if="data && !data.sources.length" class="pad soft">{{ t('house.noSources') }}</p>
    </div>
  </section>
</template>

<style scoped>
.profile {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: start;
  padding: 8px 0 4px;
}
.key {
  display: flex;
  gap: 8px;
  max-width: 460px;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
</style>
