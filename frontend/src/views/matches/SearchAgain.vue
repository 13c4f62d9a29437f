<script setup lang="ts">
/** Asking sources by other words than the name's. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { onMounted, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type EntryCard } from '@/api/client'

const props = defineProps<{ entry: EntryCard }>()
const emit = defineEmits<{ done: []; failed: [reason: unknown] }>()
const { t } = useI18n()
const client = useQueryClient()
const words = ref(props.entry.title)
const from = ref('')
const box = useTemplateRef<HTMLInputElement>('box')
onMounted(() => {
  box.value?.focus()
  box.value?.select()
})
const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: () => ask(api.GET('/api/sources')),
})
const typed = refDebounced(words, 300)
const { data: proposed } = useQuery({
  queryKey: ['proposed', typed, () => props.entry.id],
  queryFn: () =>
    ask(
      api.GET('/api/entries/{entry_id}/suggest', {
        params: { path: { entry_id: props.entry.id }, query: { q: typed.value } },
      }),
    ),
  enabled: () => typed.value.trim().length > 1,
})
const asking = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/entries/{entry_id}/candidates', {
        params: { path: { entry_id: props.entry.id } },
        body: { words: words.value, source: from.value || null },
      }),
    ),
  onSuccess: async () => {
    emit('done')
    await client.invalidateQueries({ queryKey: ['matches'] })
  },
  onError: (reason) => emit('failed', reason),
})
</script>

<template>
  <form class="words" @submit.prevent="asking.mutate()" @keydown.esc="emit('done')">
    <input
      ref="box"
      v-model="words"
      type="search"
      class="field"
      list="proposed"
      :aria-label="t('matches.search')"
    /><datalist id="proposed">
      <option v-for="name in proposed?.names" :key="name" :value="name" />
    </datalist>
    <select
      v-if="(sources?.sources.length ?? 0) > 1"
      v-model="from"
      class="field"
      :aria-label="t('house.sources')"
    >
      <option value="">{{ t('matches.everySource') }}</option>
      <option v-for="source in sources?.sources" :key="source.id">{{ source.name }}</option></select
    ><el-button native-type="submit" type="primary" :loading="asking.isPending.value">{{
      t('matches.search')
    }}</el-button>
  </form>
</template>

<style scoped>
.words {
  display: flex;
  gap: 8px;
  margin: 14px 0;
  max-width: 620px;
}
.words input {
  flex: 1;
}
</style>
