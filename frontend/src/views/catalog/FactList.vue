<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Fact } from '@/api/client'
import { clock, day } from '@/composables/words'

const props = defineProps<{ facts: readonly Fact[] }>()
const { t, te, locale } = useI18n()
const origins = ref(false)
const shown = computed(() => props.facts.filter((fact) => fact.field !== 'plot' || origins.value))
const name = (field: string) => (te(`field.${field}`) ? t(`field.${field}`) : field.replaceAll('_', ' '))
const origin = (text: string) => (text.startsWith('source:') ? text.slice(7) : te(`origin.${text}`) ? t(`origin.${text}`) : text)
function say(field: string, value: unknown): string {
  if (field === 'runtime') return clock(Number(value))
  if (field === 'date' && typeof value === 'string') return day(value, String(locale.value))
  if (Array.isArray(value)) return value.join(', ')
  if (value !== null && typeof value === 'object') return Object.entries(value).map(([k, v]) => `${k} ${String(v)}`).join(', ')
  return String(value)
}
</script>

<template>
  <section class="facts">
    <h2>{{ t('page.facts') }} <button class="link" :aria-expanded="origins" @click="origins = !origins">{{ origins ? t('page.hide') : t('page.origins') }}</button></h2>
    <table class="card">
      <tbody>
        <tr v-for="fact in shown" :key="fact.field">
          <th>{{ name(fact.field) }}</th>
          <td>
            {{ say(fact.field, fact.shown.value) }}
            <span v-if="origins" class="origin">{{ t('page.from') }} {{ origin(fact.shown.origin) }}</span>
            <span v-for="other in origins ? fact.others : []" :key="other.origin" class="other">{{ say(fact.field, other.value) }} <span class="origin">{{ t('page.from') }} {{ origin(other.origin) }}</span></span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.facts { margin-bottom: 22px; }
h2 { display: flex; align-items: baseline; gap: 14px; margin-bottom: 8px; }
h2 .link { font: 500 13px var(--sans); }
table { width: 100%; max-width: 860px; border-collapse: collapse; }
tr { border-bottom: 1px solid var(--rule); }
tr:last-child { border: 0; }
th { width: 140px; text-align: start; font-weight: 400; color: var(--ink-soft); padding: 6px 12px; vertical-align: top; }
td { padding: 6px 12px 6px 0; overflow-wrap: anywhere; }
.origin { font: 11.5px/1 var(--mono); color: var(--accent); background: var(--accent-soft); border-radius: 2px; padding: 2px 5px; margin-inline-start: 8px; white-space: nowrap; }
.other { display: block; color: var(--ink-soft); padding-top: 4px; }
</style>
