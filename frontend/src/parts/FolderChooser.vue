<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, Problem, type LibraryKind } from '@/api/client'
import ProblemNote from './ProblemNote.vue'

const emit = defineEmits<{ added: [] }>()
const { t, locale } = useI18n()
const client = useQueryClient()
const KINDS: LibraryKind[] = ['movies', 'series', 'music', 'photos', 'home-videos', 'mixed']
const LANGUAGES = [
  'en',
  'de',
  'fr',
  'es',
  'it',
  'pt',
  'nl',
  'sv',
  'pl',
  'ru',
  'ja',
  'ko',
  'zh',
  'ar',
]
const path = ref('/')
const typed = ref('/')
const name = ref('')
const kind = ref<LibraryKind>('mixed')
const language = ref(String(locale.value))
const country = ref('')
const { data: here, error } = useQuery({
  queryKey: ['browse', path],
  queryFn: () => ask(api.GET('/api/browse', { params: { query: { path: path.value } } })),
  placeholderData: (before) => before,
  retry: false,
})
const { data: preview, isFetching: counting } = useQuery({
  queryKey: ['preview', path],
  queryFn: () => ask(api.GET('/api/browse/preview', { params: { query: { path: path.value } } })),
  enabled: () => path.value !== '/',
  retry: false,
})
watch(path, (now) => {
  typed.value = now
  name.value = now.split('/').filter(Boolean).at(-1) ?? ''
})
watch(preview, (now) => {
  if (now) kind.value = now.suggestion
})
const counts = computed(() =>
  path.value === '/' ? [] : Object.entries(preview.value?.counts ?? {}),
)
const adding = useMutation({
  mutationFn: (sure: boolean) =>
    ask(
      api.POST('/api/libraries', {
        body: {
          name: name.value,
          kind: kind.value,
          folders: [path.value],
          language: language.value,
          country: country.value.toUpperCase(),
          sure,
        },
      }),
    ),
  onSuccess: () => {
    void client.invalidateQueries()
    emit('added')
  },
})
watch(kind, () => adding.reset())
const unlikely = computed(
  () => adding.error.value instanceof Problem && adding.error.value.reference === 'kind-unlikely',
)
</script>

<template>
  <div class="chooser">
    <section class="card browse">
      <form class="path" @submit.prevent="path = typed.trim() || '/'">
        <el-input v-model="typed" :aria-label="t('chooser.path')" spellcheck="false" class="mono" />
      </form>
      <ProblemNote v-if="error" :error="error" />
      <ul>
        <li v-if="here?.parent">
          <button class="plain row" @click="path = here.parent">
            ↰ <span class="soft">{{ t('chooser.up') }}</span>
          </button>
        </li>
        <li v-for="folder in here?.folders ?? []" :key="folder.path">
          <button class="plain row" :disabled="!folder.readable" @click="path = folder.path">
            <span class="tabbed" aria-hidden="true"></span
            ><span class="mono">{{ folder.name }}</span
            ><span v-if="!folder.readable" class="faint">{{ t('chooser.unreadable') }}</span>
          </button>
        </li>
        <li v-if="here && !here.folders.length" class="faint none">{{ t('chooser.empty') }}</li>
      </ul>
    </section>
    <section class="what">
      <p class="label">{{ t('chooser.here') }}</p>
      <p class="mono where">{{ path }}</p>
      <p class="counts">
        <template v-if="counts.length"
          ><span v-for="[what, n] in counts" :key="what">{{ t(`counts.${what}`, n) }}</span
          ><span v-if="preview && !preview.complete" class="faint">{{
            t('chooser.more')
          }}</span></template
        >
        <span v-else class="faint">{{ counting ? t('app.loading') : t('chooser.nothing') }}</span>
      </p>
      <label>{{ t('chooser.name') }}<el-input v-model="name" /></label>
      <label
        >{{ t('chooser.kind')
        }}<el-select v-model="kind" :aria-label="t('chooser.kind')"
          ><el-option v-for="k in KINDS" :key="k" :value="k" :label="t(`kind.${k}`)" /></el-select
      ></label>
      <div class="two">
        <label
          >{{ t('chooser.language')
          }}<el-select v-model="language" :aria-label="t('chooser.language')"
            ><el-option
              v-for="l in LANGUAGES"
              :key="l"
              :value="l"
              :label="
                new Intl.DisplayNames([String(locale)], { type: 'language' }).of(l) ?? l
              " /></el-select
        ></label>
        <label
          >{{ t('chooser.country') }}<el-input v-model="country" maxlength="2" placeholder="AT"
        /></label>
      </div>
      <ProblemNote v-if="adding.error.value" :error="adding.error.value" />
      <div class="actions">
        <el-button
          type="primary"
          :disabled="path === '/' || !name.trim()"
          :loading="adding.isPending.value"
          @click="adding.mutate(false)"
          >{{ t('chooser.declare') }}</el-button
        >
        <el-button v-if="unlikely" @click="adding.mutate(true)">{{
          t('chooser.sure', { kind: t(`kind.${kind}`) })
        }}</el-button>
      </div>
    </section>
  </div>
</template>

<style scoped>
.chooser {
  display: grid;
  grid-template-columns: minmax(260px, 1fr) minmax(260px, 1fr);
  gap: 20px;
}
.browse {
  display: flex;
  flex-direction: column;
  height: 380px;
  overflow: hidden;
}
.path {
  padding: 8px;
  border-bottom: 1px solid var(--rule);
}
ul {
  list-style: none;
  margin: 0;
  padding: 4px 0;
  overflow: auto;
  flex: 1;
}
.row {
  display: flex;
  align-items: center;
  gap: 9px;
  width: 100%;
  height: 30px;
  padding: 0 12px;
}
.row:hover:not(:disabled) {
  background: var(--accent-soft);
}
.row:disabled {
  opacity: 0.55;
  cursor: default;
}
.tabbed {
  width: 15px;
  height: 10px;
  border: 1.5px solid var(--accent);
  border-radius: 1px;
  position: relative;
  flex: none;
}
.tabbed::before {
  content: '';
  position: absolute;
  top: -4.5px;
  left: 1px;
  width: 6px;
  height: 3px;
  border: 1.5px solid var(--accent);
  border-bottom: 0;
  border-radius: 2px 2px 0 0;
}
.none {
  padding: 6px 12px;
}
.what {
  display: flex;
  flex-direction: column;
  gap: 9px;
}
.what p {
  margin: 0;
}
.where {
  overflow-wrap: anywhere;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font: 700 15px/1.5 var(--serif);
  min-height: 24px;
}
label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.two {
  display: grid;
  grid-template-columns: 1fr 90px;
  gap: 12px;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.actions .el-button + .el-button {
  margin: 0;
}
@media (max-width: 760px) {
  .chooser {
    grid-template-columns: 1fr;
  }
  .browse {
    height: 260px;
  }
}
</style>
