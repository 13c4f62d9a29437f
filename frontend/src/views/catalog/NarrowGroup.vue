<script setup lang="ts">
/** One group of what a shelf is narrowed down by; where there are many values one looks for them by their letters. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type TraitGroup } from '@/api/client'
import { useTraitWords } from '@/composables/traitWords'
import { A_PAUSE_MS } from '@/composables/useShelfQuery'
import ProblemNote from '@/parts/ProblemNote.vue'

const FIRST = 8
const props = defineProps<{
  group: TraitGroup
  shelf: string
  /** What the shelf is narrowed down to already. */
  asked: { traits: string; year: string; until: string; words: string }
  /** Group and value of each that is chosen. */
  chosen: string[]
}>()
const emit = defineEmits<{ toggle: [group: string, value: string] }>()
const { t } = useI18n()
const { say } = useTraitWords()
const isOpen = ref(false)
const words = ref('')
const like = refDebounced(words, A_PAUSE_MS)
/** Nothing of a group that is not told with the others is known before it is asked for. */
const isApart = computed(() => props.group.has_more && !props.group.traits.length)
const query = computed(() => ({ ...props.asked, like: like.value.trim() }))
const isLookedFor = computed(() => isApart.value || !!query.value.like)
const { data, error, refetch } = useQuery({
  queryKey: ['shelf', () => props.shelf, 'traits', () => props.group.name, query],
  queryFn: () =>
    ask(
      api.GET('/api/shelves/{shelf}/traits/{group}', {
        params: { path: { shelf: props.shelf, group: props.group.name }, query: query.value },
      }),
    ),
  enabled: isLookedFor,
  placeholderData: keepPreviousData,
})
const listed = computed(() => (isLookedFor.value ? (data.value?.traits ?? []) : props.group.traits))
const hasField = computed(() => props.group.has_more || !!words.value)
const isShown = computed(
  () =>
    !isApart.value ||
    listed.value.length > 1 ||
    !!error.value ||
    !!words.value ||
    props.chosen.some((one) => one.startsWith(`${props.group.name}:`)),
)
const shown = computed(() => (isOpen.value ? listed.value : listed.value.slice(0, FIRST)))
const isChosen = (value: string) => props.chosen.includes(`${props.group.name}:${value}`)
const title = computed(() => t(`narrow.group.${props.group.name}`))
</script>

<template>
  <fieldset v-if="isShown" :data-test="`narrow-${group.name}`">
    <legend>{{ title }}</legend>
    <input
      v-if="hasField"
      v-model="words"
      class="field"
      type="search"
      :placeholder="t('narrow.find')"
      :aria-label="t('narrow.findIn', { group: title })"
    />
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <label v-for="one in shown" :key="one.value" :class="{ none: !one.count }">
      <input
        type="checkbox"
        :checked="isChosen(one.value)"
        @change="emit('toggle', group.name, one.value)"
      />
      <span>{{ say(group.name, one.value, one.label) }}</span>
      <span class="mono faint">{{ one.count }}</span>
    </label>
    <p v-if="isLookedFor && data && !listed.length" class="soft">{{ t('narrow.noneSo') }}</p>
    <button v-if="listed.length > shown.length" class="link" @click="isOpen = true">
      {{ t('today.more', { n: listed.length - FIRST }) }}
    </button>
  </fieldset>
</template>

<style scoped>
fieldset {
  min-width: 0;
  margin: 0 0 14px;
  break-inside: avoid;
  padding: 0;
  border: 0;
}
legend {
  width: 100%;
  margin-bottom: 4px;
  padding: 0 0 3px;
  border-bottom: 1px solid var(--rule);
  font: 700 13.5px var(--serif);
}
input[type='search'] {
  width: 100%;
  margin: 2px 0 4px;
  padding: 3px 7px;
  font-size: 13px;
}
label {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 7px;
  align-items: center;
  min-height: 24px;
  font-size: 13px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
label:hover {
  color: var(--accent);
}
label.none {
  color: var(--ink-faint);
}
input[type='checkbox'] {
  margin: 0;
  accent-color: var(--accent);
}
p {
  margin: 0 0 4px;
  font-size: 13px;
}
</style>
