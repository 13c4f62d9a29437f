<script setup lang="ts">
/** The page of an invitation: who invites, to what, and what to do next. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { fetchStatus } from '@/composables/useStatus'
import { moment } from '@/composables/words'
import { LANGUAGES, speak } from '@/i18n'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const key = computed(() => String(route.params.key))
const params = computed(() => ({ path: { key: key.value } }))
const name = ref('')
const password = ref('')
const { data, error } = useQuery({
  queryKey: ['invited', key],
  queryFn: () => ask(api.GET('/api/invited/{key}', { params: params.value })),
  retry: false,
})
const coming = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/invited/{key}', {
        params: params.value,
        body: {
          name: name.value.trim(),
          password: password.value,
          language: String(locale.value) === 'de' ? 'de' : 'en',
        },
      }),
    ),
  onSuccess: async () => {
    client.removeQueries({ predicate: (query) => query.queryKey[0] !== 'status' })
    await client.fetchQuery({ queryKey: ['status'], queryFn: fetchStatus, staleTime: 0 })
    await router.replace('/catalog')
  },
})
const isReady = computed(() => name.value.trim() !== '' && password.value.length >= 8)
</script>

<template>
  <main class="welcome">
    <section class="card front">
      <p class="tab">Indice</p>
      <template v-if="data">
        <h1>{{ t('invite.from', { name: data.by }) }}</h1>
        <p class="lead">
          {{
            data.libraries.length
              ? t('invite.to', { libraries: data.libraries.join(', ') })
              : t(`people.means.${data.role}`)
          }}
          <template v-if="data.age !== null">{{ t('people.upTo', { n: data.age }) }}.</template>
        </p>
        <form @submit.prevent="coming.mutate()">
          <label
            >{{ t('welcome.language') }}
            <el-radio-group
              :model-value="String(locale)"
              @update:model-value="(l) => speak(String(l))"
              ><el-radio-button v-for="(label, code) in LANGUAGES" :key="code" :value="code">{{
                label
              }}</el-radio-button></el-radio-group
            >
          </label>
          <label
            >{{ t('welcome.name')
            }}<el-input v-model="name" name="name" autocomplete="username" autofocus maxlength="60"
          /></label>
          <label
            >{{ t('welcome.password')
            }}<el-input
              v-model="password"
              name="password"
              type="password"
              autocomplete="new-password"
              :placeholder="t('people.atLeast')"
              show-password
          /></label>
          <ProblemNote v-if="coming.error.value" :error="coming.error.value" />
          <el-button
            native-type="submit"
            type="primary"
            :disabled="!isReady || coming.isPending.value"
            >{{ t('invite.comeIn') }}</el-button
          >
        </form>
        <p class="soft until">{{ t('invite.until', { day: moment(data.ends_at, locale) }) }}</p>
      </template>
      <template v-else-if="error">
        <h1>{{ t('invite.closed') }}</h1>
        <p class="lead">{{ error.message }}</p>
        <RouterLink to="/welcome">{{ t('invite.signIn') }}</RouterLink>
      </template>
    </section>
  </main>
</template>

<style scoped src="./front.css"></style>
<style scoped>
h1 {
  overflow-wrap: anywhere;
}
.until {
  margin: 16px 0 0;
  font-size: 13px;
}
</style>
