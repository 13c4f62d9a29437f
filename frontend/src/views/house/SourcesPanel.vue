<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage, ElMessageBox } from 'element-plus'
import 'element-plus/es/components/message-box/style/css'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Look, type Source } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['sources'], queryFn: () => ask(api.GET('/api/sources')) })
const adding = ref(false)
const profile = ref('')
const key = ref('')
const keyed = ref<number>()
const problem = ref<{ id: number; error: unknown }>()
const url = ref('')
const seen = ref<Look>()
const open = ref<number>()
const looking = useMutation({
  mutationFn: () =>
    ask(api.POST('/api/sources/look', { body: { url: url.value.trim(), key: key.value || null } })),
  onSuccess: (found) => {
    seen.value = found
    profile.value = found.profile
  },
})
async function act(source: Source, work: Promise<unknown>): Promise<void> {
  problem.value = undefined
  await work.catch((error: unknown) => (problem.value = { id: source.id, error }))
  await refresh()
}
function first(source: Source): Promise<void> {
  const ids = (data.value?.sources ?? []).map((other) => other.id)
  return act(
    source,
    ask(
      api.PUT('/api/sources/order', {
        body: { ids: [source.id, ...ids.filter((id) => id !== source.id)] },
      }),
    ),
  )
}
async function remove(source: Source): Promise<void> {
  try {
    await ElMessageBox.confirm(t('house.sourceForget', { name: source.name }), t('house.forget'), {
      confirmButtonText: t('house.forget'),
      cancelButtonText: t('house.cancel'),
    })
  } catch {
    return
  }
  await act(
    source,
    ask(api.DELETE('/api/sources/{source_id}', { params: { path: { source_id: source.id } } })),
  )
}
function edit(source: Source): void {
  open.value = open.value === source.id ? undefined : source.id
  profile.value = source.profile
}
async function rewrite(source: Source): Promise<void> {
  await act(source, ask(api.POST('/api/sources', { body: { profile: profile.value, key: null } })))
  if (!problem.value) open.value = undefined
}
const refresh = () => client.invalidateQueries({ queryKey: ['sources'] })
const putting = useMutation({
  mutationFn: () =>
    ask(api.POST('/api/sources', { body: { profile: profile.value, key: key.value || null } })),
  onSuccess: async () => {
    adding.value = false
    profile.value = key.value = url.value = ''
    seen.value = undefined
    await refresh()
  },
})
async function test(source: Source): Promise<void> {
  problem.value = undefined
  try {
    const said = await ask(
      api.POST('/api/sources/{source_id}/test', { params: { path: { source_id: source.id } } }),
    )
    ElMessage({ message: said.message, type: 'success', duration: 5000 })
  } catch (error) {
    problem.value = { id: source.id, error }
  }
  await refresh()
}
async function saveKey(source: Source): Promise<void> {
  try {
    await ask(
      api.PUT('/api/sources/{source_id}/key', {
        params: { path: { source_id: source.id } },
        body: { key: key.value },
      }),
    )
    ElMessage({ message: t('house.kept'), type: 'success' })
    key.value = ''
    keyed.value = undefined
  } catch (error) {
    problem.value = { id: source.id, error }
  }
  await refresh()
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
    <form v-if="adding" class="card adding" @submit.prevent="putting.mutate()">
      <div class="look">
        <label
          >{{ t('house.address') }}<span class="faint">{{ t('house.addressHint') }}</span
          ><el-input
            v-model="url"
            type="url"
            placeholder="https://"
            spellcheck="false"
            data-test="source-url"
        /></label>
        <el-button
          :loading="looking.isPending.value"
          :disabled="!url.trim()"
          data-test="source-look"
          @click="looking.mutate()"
          >{{ t('house.readManifest') }}</el-button
        >
      </div>
      <ProblemNote v-if="looking.error.value" :error="looking.error.value" />
      <div v-if="seen" class="seen">
        <p>
          <b>{{ seen.name }}</b>
          {{ t('house.speaks', { versions: seen.versions.join(', '), n: seen.batch_size }) }}
          <template v-if="seen.wants_key">{{ t('house.wantsKey') }}</template>
        </p>
        <dl>
          <template v-for="(properties, type) in seen.properties" :key="type"
            ><dt class="mono">{{ type }}</dt>
            <dd class="mono soft">
              {{ properties.map((one) => one.id).join(' ') || '–' }}
            </dd></template
          >
        </dl>
        <p class="soft">{{ t('house.draftHint') }}</p>
      </div>
      <label
        >{{ t('house.profile') }}<span class="faint">{{ t('house.profileHint') }}</span
        ><el-input
          v-model="profile"
          type="textarea"
          :rows="seen ? 18 : 9"
          class="mono"
          spellcheck="false"
          data-test="source-profile"
      /></label>
      <label
        >{{ t('house.key') }}<el-input v-model="key" type="password" autocomplete="off"
      /></label>
      <ProblemNote v-if="putting.error.value" :error="putting.error.value" />
      <el-button
        type="primary"
        native-type="submit"
        :loading="putting.isPending.value"
        :disabled="!profile.trim()"
        >{{ t('house.add') }}</el-button
      >
    </form>
    <div class="card">
      <div v-for="source in data?.sources ?? []" :key="source.id" class="source">
        <div>
          <b>{{ source.name }}</b> <span class="mono soft">{{ source.url }}</span>
          <span class="line" :class="{ wrong: source.problem }">{{
            source.problem || (source.checked_at ? t('house.fine') : t('house.untested'))
          }}</span>
          <span v-if="source.unknown_fields.length" class="line">{{
            t('house.unknownFields', { fields: source.unknown_fields.join(', ') })
          }}</span>
        </div>
        <span class="soft">{{ source.has_key ? t('house.keySet') : t('house.keyNone') }}</span>
        <span class="acts"
          ><button
            v-if="data && data.sources[0]?.id !== source.id"
            class="link"
            @click="first(source)"
          >
            {{ t('house.askFirst') }}</button
          ><button class="link" :aria-expanded="open === source.id" @click="edit(source)">
            {{ t('house.profile') }}</button
          ><button class="link" @click="test(source)">{{ t('house.test') }}</button
          ><button class="link" @click="keyed = keyed === source.id ? undefined : source.id">
            {{ t('house.keyNew') }}</button
          ><button class="link" @click="remove(source)">{{ t('house.forget') }}</button></span
        >
        <form
          v-if="open === source.id"
          class="wide adding plainly"
          @submit.prevent="rewrite(source)"
        >
          <el-input
            v-model="profile"
            type="textarea"
            :rows="16"
            class="mono"
            spellcheck="false"
            :aria-label="t('house.profile')"
          /><el-button native-type="submit" type="primary">{{ t('convention.save') }}</el-button>
        </form>
        <form v-if="keyed === source.id" class="keyform" @submit.prevent="saveKey(source)">
          <el-input
            v-model="key"
            type="password"
            autocomplete="off"
            :aria-label="t('house.key')"
          /><el-button native-type="submit" type="primary">{{ t('house.keySave') }}</el-button>
        </form>
        <ProblemNote v-if="problem?.id === source.id" :error="problem.error" class="wide" />
      </div>
      <p v-if="data && !data.sources.length" class="pad soft">{{ t('house.noSources') }}</p>
    </div>
  </section>
</template>

<style scoped>
.adding {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px;
  margin-bottom: 14px;
  align-items: start;
}
label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  width: 100%;
  font-size: 13px;
}
.source {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 24px;
  align-items: center;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.source:last-child {
  border: 0;
}
b {
  font: 700 14.5px var(--serif);
}
.line {
  display: block;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.wrong {
  color: var(--stamp);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.look {
  display: flex;
  gap: 10px;
  align-items: end;
  width: 100%;
}
.seen {
  width: 100%;
  font-size: 13px;
}
.seen p {
  margin: 0 0 4px;
}
.seen dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 14px;
  margin: 6px 0;
}
.seen dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.plainly {
  padding: 8px 0 4px;
  margin: 0;
}
.keyform {
  display: flex;
  gap: 8px;
  grid-column: 1 / -1;
  max-width: 460px;
}
.wide {
  grid-column: 1 / -1;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
@media (max-width: 860px) {
  .source {
    grid-template-columns: 1fr;
  }
}
</style>
