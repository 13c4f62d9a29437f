<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useIntersectionObserver } from '@vueuse/core'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { api, ask, type EntryCard, type Rule } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

/** So far beyond what is seen a block is kept, in pixels. */
const NEAR = '1400px 0px'
const GUESSED_PX = 1200

const props = defineProps<{
  shelf: string
  after: string
  year: string
  until: string
  words: string
  traits: string
  sort: Rule['sort']
  first: boolean
}>()
const emit = defineEmits<{ found: [entries: EntryCard[], following: string | null] }>()
const box = useTemplateRef<HTMLElement>('box')
const near = ref(props.first)
const height = ref(GUESSED_PX)
useIntersectionObserver(
  box,
  ([seen]) => {
    if (!seen) return
    if (!seen.isIntersecting && near.value && data.value)
      height.value = box.value?.offsetHeight ?? height.value
    near.value = seen.isIntersecting
  },
  { rootMargin: NEAR },
)
const asked = computed(() => ({
  after: props.after,
  year: props.year,
  until: props.until,
  words: props.words,
  traits: props.traits,
  sort: props.sort,
}))
const { data, error, refetch } = useQuery({
  queryKey: ['shelf', () => props.shelf, asked],
  queryFn: () =>
    ask(
      api.GET('/api/shelves/{shelf}', {
        params: { path: { shelf: props.shelf }, query: asked.value },
      }),
    ),
  enabled: near,
})
watch(data, (now) => now && emit('found', now.entries, now.following), { immediate: true })
</script>

<template>
  <div ref="box" class="block" :style="near && data ? undefined : { minHeight: `${height}px` }">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <slot v-if="near && data" :entries="data.entries" />
  </div>
</template>
