<script setup lang="ts">
/** Chooses by what a shelf is laid out in groups, or that it is not. What is narrowed down stays so. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import ChooseOne from '@/parts/ChooseOne.vue'

const GROUPED = {
  films: ['genre', 'decade', 'director', 'set'],
  series: ['genre', 'decade'],
  music: ['genre', 'decade', 'composer', 'label'],
  photos: ['town', 'country', 'person', 'keyword', 'camera', 'lens'],
} as const
const KEPT = ['with', 'filter', 'year'] as const
const props = defineProps<{ shelf: string; at?: string }>()
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const groups = computed(() => GROUPED[props.shelf as keyof typeof GROUPED] ?? ([] as const))
function go(by: string): void {
  const path = `/catalog/${props.shelf}${by ? `/by/${by}` : ''}`
  const query = Object.fromEntries(
    KEPT.map((one) => [one, route.query[one]]).filter((one) => !!one[1]),
  ) as Record<string, string>
  void router.push({ path, query })
}
</script>

<template>
  <ChooseOne
    name="group-by"
    :label="t('groups.by')"
    :value="at ?? ''"
    :options="[['', t('groups.none')], ...groups.map((one) => [one, t(`groups.${one}`)] as const)]"
    @choose="go"
  />
</template>
