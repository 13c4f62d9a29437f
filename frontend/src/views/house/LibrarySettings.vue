<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Library } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import PlanSheet from '../names/PlanSheet.vue'
import { usePlans } from '@/composables/usePlans'

const VIDEO = [
  'title',
  'original_title',
  'date',
  'plot',
  'tagline',
  'genres',
  'rating',
  'directors',
  'cast',
]
const MUSIC = ['title', 'year', 'genres', 'artists', 'label']
const props = defineProps<{ library: Library }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const client = useQueryClient()
const sheet = usePlans()
const error = ref<Error>()
const { data: known } = useQuery({
  queryKey: ['sources'],
  queryFn: () => ask(api.GET('/api/sources')),
})
const form = reactive({
  name: props.library.name,
  language: props.library.language,
  country: props.library.country,
  sources: [...props.library.sources],
  own_first: [...props.library.own_first],
  schedule: props.library.schedule,
  writes: [...props.library.writes] as ('facts' | 'artwork' | 'photos' | 'tags')[],
})
/** All sources: those in use first, in their order; none chosen means all. */
const ordered = computed(() => {
  const names = (known.value?.sources ?? []).map((source) => source.name)
  return [
    ...form.sources.filter((name) => names.includes(name)),
    ...names.filter((name) => !form.sources.includes(name)),
  ]
})
const uses = (name: string) => !form.sources.length || form.sources.includes(name)
function use(name: string, on: boolean): void {
  const chosen = form.sources.length ? form.sources : ordered.value
  form.sources = on
    ? [...chosen.filter((other) => other !== name), name]
    : chosen.filter((other) => other !== name)
}
function up(name: string): void {
  const names = form.sources.length ? [...form.sources] : [...ordered.value]
  const at = names.indexOf(name)
  if (at > 0)
    form.sources = [...names.slice(0, at - 1), name, names[at - 1]!, ...names.slice(at + 1)]
}
/** When it is scanned by itself; what was said by the command line is offered, too. */
const schedules = computed(() => {
  const offered = new Map([
    ['every hour', t('settings.hourly')],
    ['every 6 hours', t('settings.hours', { n: 6 })],
    ['nightly at 3', t('settings.nightly', { n: 3 })],
    ['every 7 days', t('settings.weekly')],
  ])
  const own = props.library.schedule
  return [...offered, ...(own && !offered.has(own) ? [[own, own] as const] : [])]
})
const fields = computed(() =>
  props.library.kind === 'music'
    ? MUSIC
    : ['photos', 'home-videos'].includes(props.library.kind)
      ? []
      : props.library.kind === 'mixed'
        ? [...new Set([...VIDEO, ...MUSIC])]
        : VIDEO,
)
const writable = computed(() => {
  const kind = props.library.kind
  if (kind === 'music') return ['facts', 'artwork', 'tags'] as const
  if (kind === 'photos' || kind === 'home-videos') return ['photos'] as const
  return kind === 'mixed'
    ? (['facts', 'artwork', 'photos', 'tags'] as const)
    : (['facts', 'artwork'] as const)
})
async function save(): Promise<boolean> {
  error.value = undefined
  try {
    await ask(
      api.PUT('/api/libraries/{library_id}', {
        params: { path: { library_id: props.library.id } },
        body: { ...form },
      }),
    )
    await client.invalidateQueries()
    return true
  } catch (reason) {
    error.value = reason as Error
    return false
  }
}
async function keep(): Promise<void> {
  if (!(await save())) return
  ElMessage({ message: t('settings.kept'), type: 'success' })
  emit('done')
}
async function draft(): Promise<void> {
  if (await save()) await sheet.draftWriting(props.library.id)
}
</script>

<template>
  <div class="settings">
    <form @submit.prevent="keep">
      <div class="line">
        <label>{{ t('chooser.name') }}<input v-model="form.name" required maxlength="80" /></label>
        <label
          >{{ t('chooser.language')
          }}<input v-model="form.language" class="short mono" required pattern="[a-z]{2}"
        /></label>
        <label
          >{{ t('chooser.country')
          }}<input v-model="form.country" class="short mono" pattern="[A-Z]{2}" placeholder="AT"
        /></label>
        <label
          >{{ t('settings.schedule')
          }}<select v-model="form.schedule" name="schedule">
            <option value="">{{ t('settings.whenChanged') }}</option>
            <option v-for="[value, words] in schedules" :key="value" :value="value">
              {{ words }}
            </option>
          </select></label
        >
      </div>
      <fieldset v-if="ordered.length && fields.length">
        <legend>{{ t('settings.sources') }}</legend>
        <p class="soft">{{ t('settings.sourcesHow') }}</p>
        <ol>
          <li v-for="(name, place) in ordered" :key="name">
            <label
              ><input
                type="checkbox"
                :checked="uses(name)"
                @change="use(name, ($event.target as HTMLInputElement).checked)"
              />
              {{ name }}</label
            ><button v-if="place && uses(name)" type="button" class="link" @click="up(name)">
              {{ t('settings.up') }}
            </button>
          </li>
        </ol>
      </fieldset>
      <fieldset v-if="fields.length">
        <legend>{{ t('settings.ownFirst') }}</legend>
        <p class="soft">{{ t('settings.ownFirstHow') }}</p>
        <p class="checks">
          <label v-for="field in fields" :key="field"
            ><input v-model="form.own_first" type="checkbox" :value="field" />
            {{ t(`field.${field}`) }}</label
          >
        </p>
      </fieldset>
      <fieldset>
        <legend>{{ t('settings.writes') }}</legend>
        <p class="soft">{{ t('settings.writesHow') }}</p>
        <p class="checks column">
          <label v-for="what in writable" :key="what"
            ><input
              v-model="form.writes"
              type="checkbox"
              :value="what"
              :data-test="`write-${what}`"
            />
            {{ t(`settings.write.${what}`) }}</label
          >
        </p>
        <button
          v-if="form.writes.length"
          type="button"
          class="link"
          data-test="draft-writing"
          @click="draft"
        >
          {{ t('settings.draft') }}
        </button>
      </fieldset>
      <ProblemNote v-if="error" :error="error" />
      <p class="acts">
        <el-button type="primary" native-type="submit">{{ t('convention.save') }}</el-button><button
          type="button"
          class="link"
          @click="emit('done')"
        >
          {{ t('house.cancel') }}
        </button>
      </p>
    </form>
    <ProblemNote v-if="sheet.error.value" :error="sheet.error.value" />
    <PlanSheet
      v-if="sheet.plans.value.length"
      :plans="sheet.plans.value"
      :jobs="sheet.jobs.value"
      :busy="sheet.busy.value"
      plain
      class="sheet"
      @apply="sheet.apply"
      @undo="sheet.undo"
      @close="sheet.close"
    />
  </div>
</template>

<style scoped>
.settings {
  padding: 12px 0 10px;
  border-top: 1px dashed var(--rule);
  margin-top: 4px;
}
form {
  display: flex;
  flex-direction: column;
  gap: 14px;
  max-width: 760px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
}
.line label {
  display: flex;
  flex-direction: column;
  gap: 3px;
  font-size: 12.5px;
  color: var(--ink-soft);
}
input:not([type]),
.line select {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  height: 30px;
  padding: 0 9px;
}
.short {
  width: 62px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
legend {
  padding: 0;
  font-weight: 600;
}
fieldset p {
  margin: 2px 0 6px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  counter-reset: place;
}
li {
  display: flex;
  gap: 16px;
  align-items: baseline;
  padding: 2px 0;
}
.checks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.checks.column {
  flex-direction: column;
}
.acts {
  display: flex;
  gap: 16px;
  align-items: center;
  margin: 0;
}
.sheet :deep(footer) {
  margin: auto 0 0;
  padding: 12px 0;
  background: var(--card);
}
.sheet {
  margin-top: 18px;
  padding-top: 14px;
  border-top: 1px solid var(--rule);
}
</style>
