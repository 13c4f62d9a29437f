<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { speak } from './i18n'
import { HOUSEHOLD_ROUTES, OUTSIDE_ROUTES } from './router'
import AppShell from './parts/AppShell.vue'
import PlayerBar from './parts/PlayerBar.vue'
import { followLooks } from '@/composables/useLooks'
import { claimQueue } from './composables/usePlayer'
import { useStatus } from './composables/useStatus'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { data: status, error, refetch } = useStatus()
const queries = useQueryClient()
followLooks()
const ready = computed(() => !!status.value)
const isOutside = computed(() => OUTSIDE_ROUTES.includes(String(route.name ?? '')))
const inside = computed(() => !!status.value?.person && !isOutside.value)
/** The play page has the whole window to itself, and the only thing that plays. */
const plays = computed(() => inside.value && route.name === 'play')
const online = ref(true)

watch(
  [status, () => route.name],
  ([found]) => {
    if (!found || !route.name || (isOutside.value && route.name !== 'welcome')) return
    speak(found.language)
    if (!found.person && route.name !== 'welcome')
      void router.replace({
        name: 'welcome',
        query: route.path.length > 1 ? { to: route.fullPath } : {},
      })
    else if (
      found.person &&
      !found.manages &&
      route.name &&
      !HOUSEHOLD_ROUTES.includes(String(route.name)) &&
      !(found.tidies.length && route.name === 'names')
    )
      void router.replace('/catalog')
    else if (
      found.person &&
      !found.has_library &&
      route.name !== 'welcome' &&
      route.name !== 'house'
    )
      void router.replace({ name: 'welcome' })
  },
  { immediate: true },
)
/** What the server has said in words is asked for again in the other language. */
watch(
  () => status.value?.language,
  (now, before) => now && before && now !== before && queries.invalidateQueries(),
)
watch(
  () => status.value?.person,
  (person) => person && claimQueue(person),
  { immediate: true, flush: 'sync' },
)
useEventListener(window, 'online', () => (online.value = true))
</script>

<template>
  <div v-if="error && !ready" class="blank">
    <p>{{ t('app.offline') }}</p>
    <button class="link" @click="refetch()">{{ t('error.again') }}</button>
  </div>
  <template v-else-if="ready">
    <RouterView v-if="plays" />
    <AppShell v-else-if="inside"><RouterView /></AppShell>
    <RouterView v-else />
    <PlayerBar v-if="inside && !plays" />
  </template>
  <div v-else class="blank faint">{{ t('app.loading') }}</div>
</template>

<style scoped>
.blank {
  display: grid;
  place-content: center;
  min-height: 60vh;
  text-align: center;
}
</style>
