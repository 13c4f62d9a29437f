<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useQueryClient } from '@tanstack/vue-query'
import { api, ask, type Change, type Fact } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'
import { clock, day, moment } from '@/composables/words'
import FactEdit from './FactEdit.vue'

const props = defineProps<{
  entryId: number
  facts: readonly Fact[]
  editable: readonly string[]
  changes: readonly Change[]
}>()
const client = useQueryClient()
const editing = ref<string>()
const error = ref<Error>()
async function write(field: string, value: string | number | string[] | null): Promise<void> {
  error.value = undefined
  try {
    await ask(
      api.PUT('/api/entries/{entry_id}/facts/{field}', {
        params: { path: { entry_id: props.entryId, field } },
        body: { value },
      }),
    )
    editing.value = undefined
    await client.invalidateQueries()
  } catch (reason) {
    error.value = reason as Error
  }
}
/** Fields whose single values lead to everything that shows the same. */
const LINKED = [
  'directors',
  'writers',
  'cast',
  'artists',
  'people',
  'genres',
  'set',
  'rating',
  'countries',
  'languages',
  'label',
  'keywords',
]
const links = (fact: Fact) =>
  LINKED.includes(fact.field)
    ? (Array.isArray(fact.shown.value) ? fact.shown.value : [fact.shown.value]).map(String)
    : []
const absent = computed(() =>
  props.editable.filter((field) => !props.facts.some((fact) => fact.field === field)),
)
const isOwn = (fact: Fact) => fact.shown.origin === 'hand'
const { t, te, locale } = useI18n()
const origins = ref(false)
const shown = computed(() =>
  props.facts.filter((fact) => fact.field !== 'plot' || origins.value || editing.value === 'plot'),
)
const name = (field: string) =>
  te(`field.${field}`) ? t(`field.${field}`) : field.replaceAll('_', ' ')
const origin = (text: string) =>
  text.startsWith('source:') ? text.slice(7) : te(`origin.${text}`) ? t(`origin.${text}`) : text
function say(field: string, value: unknown): string {
  if (field === 'runtime') return clock(Number(value))
  if (field === 'date' && typeof value === 'string') return day(value, String(locale.value))
  if (Array.isArray(value)) return value.join(', ')
  if (value !== null && typeof value === 'object')
    return Object.entries(value)
      .map(([k, v]) => `${k} ${String(v)}`)
      .join(', ')
  return String(value)
}
</script>

<template>
  <section class="facts">
    <h2>
      {{ t('page.facts') }}
      <button
        v-if="editable.length"
        class="link"
        :aria-expanded="origins"
        @click="origins = !origins"
      >
        {{ origins ? t('page.hide') : t('page.origins') }}
      </button>
    </h2>
    <table class="card">
      <tbody>
        <tr v-for="fact in shown" :key="fact.field">
          <th>{{ name(fact.field) }}</th>
          <td>
            <FactEdit
              v-if="editing === fact.field"
              :field="fact.field"
              :value="fact.shown.value"
              :has-own="isOwn(fact)"
              @save="(value) => write(fact.field, value)"
              @back="write(fact.field, null)"
              @cancel="editing = undefined"
            />
            <template v-else
              ><template v-if="links(fact).length"
                ><template v-for="(one, place) in links(fact)" :key="one"
                  ><template v-if="place">, </template
                  ><RouterLink
                    class="value"
                    :to="{ path: '/catalog/with', query: { field: fact.field, value: one } }"
                    >{{ one }}</RouterLink
                  ></template
                ></template
              ><span v-else :class="{ verses: fact.field === 'lyrics' }">{{
                say(fact.field, fact.shown.value)
              }}</span
              >{{ ' '
              }}<span v-if="isOwn(fact)" class="lock" :title="t('page.lockedHow')">{{
                t('page.locked')
              }}</span
              ><button
                v-if="editable.includes(fact.field)"
                class="link pen"
                @click="editing = fact.field"
              >
                {{ t('names.edit') }}<span class="only-said">: {{ name(fact.field) }}</span>
              </button></template
            >
            <span v-if="origins" class="origin"
              >{{ t('page.from') }} {{ origin(fact.shown.origin) }}</span
            >
            <span v-for="other in origins ? fact.others : []" :key="other.origin" class="other"
              >{{ say(fact.field, other.value) }}
              <span class="origin">{{ t('page.from') }} {{ origin(other.origin) }}</span></span
            >
          </td>
        </tr>
        <tr v-if="editing && absent.includes(editing)">
          <th>{{ name(editing) }}</th>
          <td>
            <FactEdit
              :field="editing"
              :value="''"
              :has-own="false"
              @save="(value) => write(editing ?? '', value)"
              @cancel="editing = undefined"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="editable.length && (absent.length || !origins)" class="add soft">
      <template v-if="absent.length"
        >{{ t('page.addField') }}
        <button v-for="field in absent" :key="field" class="link" @click="editing = field">
          {{ name(field) }}
        </button></template
      ><button
        v-if="editable.includes('plot') && !absent.includes('plot') && editing !== 'plot'"
        class="link"
        @click="editing = 'plot'"
      >
        {{ t('page.editField', { field: name('plot') }) }}
      </button>
    </p>
    <ProblemNote v-if="error" :error="error" />
    <details v-if="changes.length">
      <summary class="soft">{{ t('page.history', changes.length) }}</summary>
      <p v-for="change in changes" :key="change.at + change.field" class="change">
        <span class="mono faint">{{ moment(change.at, locale) }}</span> {{ change.by }}:
        {{ name(change.field) }}
        <s v-if="change.before !== null">{{ say(change.field, change.before) }}</s>
        {{ change.after === null ? t('page.tookBack') : say(change.field, change.after) }}
      </p>
    </details>
  </section>
</template>

<style scoped>
.verses {
  display: block;
  max-height: 12em;
  overflow: auto;
  white-space: pre-line;
}
.facts {
  margin-bottom: 22px;
}
h2 {
  display: flex;
  align-items: baseline;
  gap: 14px;
  margin-bottom: 8px;
}
h2 .link {
  font: 500 13px var(--sans);
}
table {
  width: 100%;
  max-width: 860px;
  border-collapse: collapse;
}
tr {
  border-bottom: 1px solid var(--rule);
}
tr:last-child {
  border: 0;
}
th {
  width: 140px;
  text-align: start;
  font-weight: 400;
  color: var(--ink-soft);
  padding: 6px 12px;
  vertical-align: top;
}
td {
  padding: 6px 12px 6px 0;
  overflow-wrap: anywhere;
}
.value {
  color: inherit;
  text-decoration: underline;
  text-decoration-color: var(--rule-strong);
  text-underline-offset: 3px;
}
.value:hover {
  color: var(--accent);
}
.lock {
  font: 600 10.5px var(--sans);
  letter-spacing: 0.05em;
  text-transform: uppercase;
  color: var(--moss);
  border: 1px solid currentColor;
  border-radius: 3px;
  padding: 0 5px;
  margin-inline-start: 8px;
}
.pen {
  margin-inline-start: 10px;
  font-size: 12.5px;
  opacity: 0;
}
tr:hover .pen,
.pen:focus-visible {
  opacity: 1;
}
@media (hover: none) {
  .pen {
    opacity: 1;
  }
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  font-size: 13px;
  margin: 6px 0;
}
.change {
  margin: 4px 0;
  font-size: 13px;
}
.origin {
  font: 11.5px/1 var(--mono);
  color: var(--accent);
  background: var(--accent-soft);
  border-radius: 2px;
  padding: 2px 5px;
  margin-inline-start: 8px;
  white-space: nowrap;
}
.other {
  display: block;
  color: var(--ink-soft);
  padding-top: 4px;
}
</style>
