<script setup lang="ts">
/** What is known of the picture that lies on the light table. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Entry } from '@/api/client'
import { bytes, country, day } from '@/composables/words'

const props = defineProps<{ entry: Entry }>()
const { t, locale } = useI18n()
const fact = (field: string): string[] => {
  const value: unknown = props.entry.facts.find((one) => one.field === field)?.value
  const all: unknown[] = Array.isArray(value) ? value : [value]
  return all.filter((one) => one !== null && one !== undefined && one !== '').map(String)
}
const lines = computed(() => {
  const { card, shot } = props.entry
  const size = shot?.width && shot.height ? `${shot.width} × ${shot.height}` : ''
  const place = [...fact('town'), ...fact('country').map((one) => country(one, locale.value))]
  return [
    [t('light.day'), card.moment ? day(card.moment, locale.value) : ''],
    [t('light.event'), card.subtitle],
    [t('light.place'), place.join(', ')],
    [t('light.people'), fact('people').join(', ')],
    [t('light.keywords'), fact('keywords').join(', ')],
    [t('light.said'), fact('plot').join(' ')],
    [t('light.camera'), shot?.camera],
    [t('light.lens'), shot?.lens],
    [
      t('light.size'),
      [size, shot && bytes(shot.size_bytes, locale.value)].filter(Boolean).join(', '),
    ],
  ].filter((one): one is [string, string] => !!one[1])
})
</script>

<template>
  <aside class="facts" :aria-label="t('light.facts')" data-test="light-facts">
    <dl>
      <template v-for="[name, value] in lines" :key="name"
        ><dt>{{ name }}</dt>
        <dd>{{ value }}</dd></template
      >
    </dl>
    <RouterLink v-if="entry.cell" :to="`/catalog/photos/map?with=near:${entry.cell}`">{{
      t('light.map')
    }}</RouterLink>
  </aside>
</template>

<style scoped>
.facts {
  position: absolute;
  inset-block: 64px auto;
  inset-inline-end: 18px;
  width: 270px;
  max-height: calc(100vh - 160px);
  overflow-y: auto;
  padding: 14px 16px;
  background: #24201aee;
  border: 1px solid #5d5443;
  border-radius: 3px;
  font: 13.5px/1.4 var(--sans);
}
dl {
  margin: 0;
}
dt {
  color: #b9b09b;
  font-size: 12px;
}
dd {
  margin: 0 0 8px;
  overflow-wrap: anywhere;
}
a {
  color: #8fd0cf;
}
</style>
