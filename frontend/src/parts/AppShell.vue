<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { HOUSEHOLD_PLACES, PLACES, TIDIER_PLACES } from '@/router'
import { useKeptInView } from '@/composables/useKeptInView'
import { useLive } from '@/composables/useLive'
import { useStatus } from '@/composables/useStatus'
import { isTyping } from '@/composables/useKeys'
import FindBox from './FindBox.vue'
import KeyHelp from './KeyHelp.vue'
import TogetherNotes from './TogetherNotes.vue'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { data: status } = useStatus()
useLive()
const here = computed(() => route.path.split('/')[1])
const places = computed(() => {
  if (status.value?.manages) return PLACES
  return status.value?.tidies.length ? TIDIER_PLACES : HOUSEHOLD_PLACES
})
const waiting = computed(() => status.value?.waiting ?? {})
const help = ref(false)
const row = ref<HTMLElement>()
useKeptInView(row, () => [here.value, places.value.length])
const find = ref<InstanceType<typeof FindBox>>()

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    find.value?.open()
  } else if (event.key === '?' && !isTyping(event.target)) help.value = !help.value
  else if (event.altKey && /^[1-6]$/.test(event.key)) {
    const place = places.value[Number(event.key) - 1]
    if (place) void router.push(`/${place}`)
  }
})
</script>

<template>
  <div class="shell">
    <a class="skip" href="#desk">{{ t(`place.${places.find((p) => p === here) ?? 'catalog'}`) }}</a>
    <header>
      <RouterLink :to="`/${places[0]}`" class="brand" :aria-label="t('app.name')"
        >Indice</RouterLink
      >
      <nav ref="row" :aria-label="t('app.name')">
        <RouterLink
          v-for="place in places"
          :key="place"
          :to="`/${place}`"
          class="tab"
          :class="{ here: here === place }"
          :aria-current="here === place ? 'page' : undefined"
        >
          <span>{{ t(`place.${place}`) }}</span>
          <b v-if="waiting[place]">{{ waiting[place] }}</b>
        </RouterLink>
      </nav>
      <FindBox ref="find" :places="places" />
    </header>
    <main id="desk" tabindex="-1"><slot /></main>
    <TogetherNotes />
    <KeyHelp v-if="help" @close="help = false" />
  </div>
</template>

<style scoped>
.shell {
  min-height: 100vh;
  display: flex;
  flex-direction: column;
}
header {
  position: sticky;
  top: 0;
  z-index: 30;
  display: flex;
  align-items: end;
  gap: 18px;
  height: 54px;
  padding: 0 20px;
  background: var(--desk);
  border-bottom: 1px solid var(--rule-strong);
}
.brand {
  align-self: center;
  font: 700 23px/1 var(--serif);
  color: var(--ink);
  letter-spacing: -0.01em;
  margin-inline-end: 8px;
}
.brand:hover {
  text-decoration: none;
}
nav {
  display: flex;
  align-items: end;
  gap: 2px;
  flex: 1;
  min-width: 0;
}
.tab {
  display: flex;
  align-items: center;
  gap: 7px;
  height: 33px;
  padding: 0 15px;
  border: 1px solid transparent;
  border-bottom: 0;
  border-radius: 7px 7px 0 0;
  color: var(--ink-soft);
  font-weight: 500;
  position: relative;
  white-space: nowrap;
}
.tab:hover {
  text-decoration: none;
  color: var(--ink);
  background: color-mix(in srgb, var(--paper) 45%, transparent);
}
.tab b {
  font: 500 11.5px/1 var(--mono);
  color: var(--stamp);
}
.tab.here {
  height: 38px;
  background: var(--paper);
  border-color: var(--rule-strong);
  color: var(--ink);
  font-weight: 600;
  margin-bottom: -1px;
  padding-bottom: 2px;
}
main {
  flex: 1;
  min-width: 0;
  outline: 0;
  padding-bottom: var(--player-space, 0);
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 50;
  background: var(--card);
  padding: 6px 10px;
}
@media (max-width: 760px) {
  header {
    flex-wrap: wrap;
    height: auto;
    padding: 10px 12px 0;
    gap: 8px;
    align-items: center;
  }
  .brand {
    margin: 0;
  }
  nav {
    order: 3;
    flex-basis: 100%;
    padding-inline-end: 28px;
    overflow-x: auto;
    scrollbar-width: none;
    mask-image: linear-gradient(to left, transparent, black 28px);
  }
  nav:dir(rtl) {
    mask-image: linear-gradient(to right, transparent, black 28px);
  }
  .tab {
    padding: 0 11px;
  }
}
</style>
