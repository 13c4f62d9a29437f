<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, Problem } from '@/api/client'
import { canHavePasskeys, signInByPasskey } from '@/composables/usePasskeys'
import { fetchStatus, useStatus } from '@/composables/useStatus'
import { LANGUAGES, speak } from '@/i18n'
import FolderChooser from '@/parts/FolderChooser.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, locale } = useI18n()
const router = useRouter()
const route = useRoute()
const client = useQueryClient()
const { data: status, refetch } = useStatus()
const name = ref('')
const password = ref('')
const setupCode = ref('')
const needsCode = computed(() => !!status.value?.needs_code)
const first = computed(() => !status.value?.has_owner)
const signedIn = computed(() => !!status.value?.person)
const { data: libraries } = useQuery({
  queryKey: ['libraries'],
  queryFn: () => ask(api.GET('/api/libraries')),
  enabled: signedIn,
})
const declared = computed(
  () =>
    new Set(
      libraries.value?.libraries.flatMap((library) =>
        library.folders.map((folder) => folder.path),
      ) ?? [],
    ),
)
const offered = computed(() => status.value?.demo_folders ?? [])

const entering = useMutation({
  mutationFn: () =>
    first.value
      ? ask(
          api.POST('/api/setup', {
            body: {
              language: String(locale.value),
              name: name.value,
              password: password.value,
              code: setupCode.value,
            },
          }),
        )
      : ask(api.POST('/api/session', { body: { name: name.value, password: password.value } })),
  onSuccess: inside,
})
const byKey = useMutation({ mutationFn: signInByPasskey, onSuccess: inside })
const keyProblem = computed(() => {
  const error = byKey.error.value
  return error && !error.message ? new Problem('passkey-none', t('passkey.notUsed'), '', 0) : error
})
/** Somebody is signed in: on to where they wanted to go. */
async function inside(): Promise<void> {
  client.removeQueries({ predicate: (query) => query.queryKey[0] !== 'status' })
  const now = await client.fetchQuery({
    queryKey: ['status'],
    queryFn: fetchStatus,
    staleTime: 0,
  })
  if (now.has_library)
    await router.replace(
      typeof route.query.to === 'string' && route.query.to.startsWith('/')
        ? route.query.to
        : '/today',
    )
}
const adding = useMutation({
  mutationFn: async () => {
    for (const folder of offered.value.filter((f) => !declared.value.has(f.path)))
      await ask(
        api.POST('/api/libraries', {
          body: {
            name: folder.name,
            kind: folder.kind,
            folders: [folder.path],
            language: String(locale.value),
            country: '',
            sure: true,
          },
        }),
      )
  },
  onSuccess: async () => {
    await client.invalidateQueries()
    await router.replace('/today')
  },
})
async function leave(): Promise<void> {
  await refetch()
  await router.replace('/today')
}
</script>

<template>
  <main class="welcome">
    <section v-if="!signedIn" class="card front">
      <p class="tab">Indice</p>
      <h1>{{ first ? t('welcome.title') : t('welcome.welcomeBack') }}</h1>
      <p v-if="first" class="lead">{{ t('welcome.lead') }}</p>
      <form @submit.prevent="entering.mutate()">
        <label v-if="first"
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
            :autocomplete="first ? 'new-password' : 'current-password'"
            show-password
          /><span v-if="first" class="faint">{{ t('welcome.passwordHint') }}</span></label
        >
        <label v-if="needsCode"
          >{{ t('welcome.code')
          }}<el-input
            v-model="setupCode"
            name="code"
            autocomplete="off"
            maxlength="40"
            class="mono"
          /><span class="faint">{{ t('welcome.codeHint') }}</span></label
        >
        <ProblemNote v-if="entering.error.value" :error="entering.error.value" />
        <el-button
          type="primary"
          native-type="submit"
          :loading="entering.isPending.value"
          :disabled="
            !name.trim() || password.length < (first ? 8 : 1) || (needsCode && !setupCode.trim())
          "
          >{{ first ? t('welcome.begin') : t('welcome.signIn') }}</el-button
        >
      </form>
      <p v-if="!first && canHavePasskeys()" class="on">
        <el-button
          :loading="byKey.isPending.value"
          data-test="by-passkey"
          @click="byKey.mutate()"
          >{{ t('passkey.signIn') }}</el-button
        >
      </p>
      <ProblemNote v-if="keyProblem" :error="keyProblem" />
      <p v-if="!first" class="on">
        <RouterLink to="/television">{{ t('device.onTelevision') }}</RouterLink>
      </p>
    </section>
    <section v-else class="card front wide">
      <p class="tab">Indice</p>
      <h1>{{ t('welcome.folders') }}</h1>
      <p class="lead">{{ t('welcome.foldersLead') }}</p>
      <div v-if="offered.length" class="offered">
        <p class="label">{{ t('welcome.offered') }}</p>
        <ul>
          <li v-for="folder in offered" :key="folder.path">
            <b>{{ folder.name }}</b><span class="soft">{{ t(`kind.${folder.kind}`) }}</span
            ><span class="mono faint">{{ folder.path }}</span
            ><span v-if="declared.has(folder.path)" class="stamp">{{ t('welcome.added') }}</span>
          </li>
        </ul>
        <ProblemNote v-if="adding.error.value" :error="adding.error.value" />
        <el-button
          type="primary"
          :loading="adding.isPending.value"
          data-test="add-all"
          @click="adding.mutate()"
          >{{ t('welcome.addAll') }}</el-button
        >
      </div>
      <ul v-if="!offered.length && libraries?.libraries.length" class="offered">
        <li v-for="library in libraries.libraries" :key="library.id">
          <b>{{ library.name }}</b><span class="soft">{{ t(`kind.${library.kind}`) }}</span
          ><span class="mono faint">{{ library.folders[0]?.path }}</span
          ><span class="stamp">{{ t('welcome.added') }}</span>
        </li>
      </ul>
      <FolderChooser @added="refetch()" />
      <p v-if="libraries?.libraries.length" class="on">
        <el-button type="primary" @click="leave">{{ t('welcome.done') }}</el-button>
      </p>
    </section>
  </main>
</template>

<style scoped src="./front.css"></style>
<style scoped>
.wide {
  width: min(920px, 100%);
}
form > .el-button {
  align-self: start;
  margin-top: 4px;
}
.offered {
  margin: 0 0 24px;
  padding: 12px 16px 16px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: var(--paper);
}
.offered ul,
ul.offered {
  list-style: none;
}
.offered ul {
  padding: 0;
  margin: 6px 0 12px;
}
li {
  display: grid;
  grid-template-columns: 130px 120px 1fr auto;
  gap: 12px;
  align-items: center;
  min-height: 32px;
  border-bottom: 1px solid var(--rule);
}
li b {
  font-weight: 500;
}
.on {
  margin: 20px 0 0;
}
@media (max-width: 620px) {
  li {
    grid-template-columns: 1fr auto;
  }
  li .mono {
    grid-column: 1 / -1;
    overflow-wrap: anywhere;
    padding-bottom: 6px;
  }
  .front {
    padding: 26px 18px;
  }
}
</style>
