<script setup lang="ts">
/** Narrows a shelf down: groups of traits with how many would be left; what is chosen stands as slips that come off again. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { traitsOf, useTraitWords } from '@/composables/traitWords'
import ProblemNote from '@/parts/ProblemNote.vue'
import NarrowGroup from './NarrowGroup.vue'

const props = defineProps<{
  shelf: string
  /** Group and value of each, parted by `|`. */
  traits: string
  year: string
  until: string
  words: string
}>()
const emit = defineEmits<{ choose: [traits: string] }>()
const { t } = useI18n()
const said = useTraitWords()
const open = ref(false)
const chosen = computed(() => props.traits.split('|').filter(Boolean))
const asked = computed(() => ({
  traits: props.traits,
  year: props.year,
  until: props.until,
  words: props.words,
}))
const { data, error, refetch } = useQuery({
  queryKey: ['shelf', () => props.shelf, 'traits', asked],
  queryFn: () =>
    ask(
      api.GET('/api/shelves/{shelf}/traits', {
        params: { path: { shelf: props.shelf }, query: asked.value },
      }),
    ),
  enabled: () => open.value || chosen.value.some((one) => one.startsWith('library:')),
  placeholderData: (before, last) => (last?.queryKey[1] === props.shelf ? before : undefined),
})
const groups = computed(() => data.value?.groups ?? [])
/** A library is called as its owner calls it, which the traits tell. */
function say(group: string, value: string, label = ''): string {
  const called =
    group === 'library'
      ? groups.value.find((one) => one.name === group)?.traits.find((one) => one.value === value)
          ?.label
      : undefined
  return said.say(group, value, label || called)
}
function toggle(group: string, value: string): void {
  const one = `${group}:${value}`
  const next = chosen.value.includes(one)
    ? chosen.value.filter((other) => other !== one)
    : [...chosen.value, one]
  emit('choose', next.join('|'))
}
/** A place on the map may be several cells of the earth, and comes off as one. */
const slips = computed(() =>
  traitsOf(props.traits)
    .filter(
      (one, at, all) => one.group !== 'near' || all.findIndex((o) => o.group === 'near') === at,
    )
    .map((one) => ({ ...one, text: say(one.group, one.value) })),
)
function takeOff(group: string, value: string): void {
  if (group !== 'near') toggle(group, value)
  else emit('choose', chosen.value.filter((one) => !one.startsWith('near:')).join('|'))
}
</script>

<template>
  <div class="narrow">
    <p class="bar">
      <button
        class="pill"
        :aria-expanded="open"
        aria-controls="narrow-panel"
        data-test="narrow"
        @click="open = !open"
      >
        {{ t('narrow.title') }} <span aria-hidden="true">{{ open ? '▴' : '▾' }}</span>
      </button>
      <button
        v-for="slip in slips"
        :key="slip.group + slip.value"
        class="pill slip"
        :aria-label="t('narrow.without', { trait: slip.text })"
        @click="takeOff(slip.group, slip.value)"
      >
        {{ slip.text }} <span aria-hidden="true">×</span>
      </button>
      <button v-if="slips.length > 1" class="link" @click="emit('choose', '')">
        {{ t('narrow.all') }}
      </button>
      <slot />
    </p>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div v-if="open && data" id="narrow-panel" class="card panel" data-test="narrow-panel">
      <NarrowGroup
        v-for="group in groups"
        :key="group.name"
        :group="group"
        :shelf="shelf"
        :asked="asked"
        :chosen="chosen"
        @toggle="toggle"
      />
      <p v-if="!groups.length" class="soft">{{ t('narrow.nothing') }}</p>
      <p v-if="!data.is_settled" class="soft wide">{{ t('narrow.counting') }}</p>
    </div>
  </div>
</template>

<style scoped>
.narrow {
  margin: 12px 0 16px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
  margin: 0;
}
.slip {
  background: var(--accent-soft);
}
.panel {
  columns: 168px;
  column-gap: 26px;
  margin-top: 8px;
  padding: 14px 18px 2px;
}
.wide {
  margin: 0 0 12px;
}
@media (max-width: 760px) {
  .panel {
    columns: 130px;
    column-gap: 16px;
    padding: 12px 12px 0;
  }
}
</style>
