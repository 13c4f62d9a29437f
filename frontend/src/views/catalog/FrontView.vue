<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useKeys } from '@/composables/useKeys'
import { useStatus } from '@/composables/useStatus'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import CatalogTabs from './CatalogTabs.vue'
import FrontRow from './FrontRow.vue'

const { t } = useI18n()
const router = useRouter()
const { data: status } = useStatus()
const { data, error, refetch } = useQuery({
  queryKey: ['front'],
  queryFn: () => ask(api.GET('/api/front')),
})
/** Rows as this person likes them in this browser: their order, and those they do not want to see. */
const kept = useLocalStorage<{ order: string[]; hidden: string[] }>(
  `front-${status.value?.person ?? ''}`,
  { order: [], hidden: [] },
)
const arranging = ref(false)
const rows = computed(() => {
  const told = data.value?.rows ?? []
  const place = (name: string) => {
    const found = kept.value.order.indexOf(name)
    return found < 0 ? kept.value.order.length + told.findIndex((row) => row.name === name) : found
  }
  return [...told].sort((one, other) => place(one.name) - place(other.name))
})
const shown = computed(() => rows.value.filter((row) => !kept.value.hidden.includes(row.name)))
const hidden = computed(() => rows.value.filter((row) => kept.value.hidden.includes(row.name)))
function move(name: string, by: number): void {
  const names = shown.value.map((row) => row.name)
  const at = names.indexOf(name)
  const other = names[at + by]
  if (other === undefined) return
  names[at + by] = name
  names[at] = other
  kept.value = { ...kept.value, order: [...names, ...kept.value.hidden] }
}
function hide(name: string, away: boolean): void {
  const others = kept.value.hidden.filter((one) => one !== name)
  kept.value = { ...kept.value, hidden: away ? [...others, name] : others }
}
const first = computed(
  () => shown.value.find((row) => row.name === 'going-on' || row.name === 'next')?.entries[0],
)
useKeys({ p: () => first.value && void router.push(`/play/${first.value.id}`) })
</script>

<template>
  <div class="catalog">
    <div class="top">
      <CatalogTabs shelf="" />
      <span v-if="first" class="soft hint"
        ><kbd>p</kbd> {{ t('front.goOn', { title: first.title }) }}</span
      >
      <button
        v-if="rows.length"
        class="link arrange"
        :aria-pressed="arranging"
        @click="arranging = !arranging"
      >
        {{ arranging ? t('front.arranged') : t('front.arrange') }}
      </button>
    </div>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <EmptyPlace
      v-if="data && !rows.length"
      :title="t('catalog.empty')"
      :how="t('catalog.emptyHow')"
    />
    <FrontRow
      v-for="(row, place) in shown"
      :key="row.name"
      :name="row.name"
      :entries="row.entries"
      :arranging="arranging"
      :place="place"
      :last="place === shown.length - 1"
      @move="(by) => move(row.name, by)"
      @hide="hide(row.name, true)"
    />
    <p v-if="arranging && hidden.length" class="soft">
      {{ t('front.hidden') }}
      <button v-for="row in hidden" :key="row.name" class="link" @click="hide(row.name, false)">
        {{ t(`front.row.${row.name}`) }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.catalog {
  padding: 0 24px 32px;
  display: flex;
  flex-direction: column;
  gap: 22px;
}
.top {
  position: sticky;
  top: 54px;
  z-index: 20;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 18px;
  margin: 0 -24px -6px;
  padding: 9px 24px;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
}
.hint {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  min-width: 0;
}
.arrange {
  margin-inline-start: auto;
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0;
}
@media (max-width: 860px) {
  .hint {
    display: none;
  }
}
</style>
