<script setup lang="ts">
/** Keeps what a shelf is narrowed down to as a list that fills itself. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, ask, type Rule } from '@/api/client'
import { traitsOf, useTraitWords } from '@/composables/traitWords'

const props = defineProps<{ rule: Rule }>()
const { t } = useI18n()
const { say } = useTraitWords()
const router = useRouter()
const client = useQueryClient()
const isOpen = ref(false)
const name = ref('')
/** A name to begin with: what was chosen. */
const proposed = computed(() =>
  [
    ...traitsOf(props.rule.traits).map((one) => say(one.group, one.value)),
    props.rule.words,
    props.rule.year,
  ]
    .filter(Boolean)
    .join(', ')
    .slice(0, 120),
)
const keeping = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/lists', {
        body: { name: name.value.trim(), entry_ids: [], rule: props.rule },
      }),
    ),
  onSuccess: async ({ id }) => {
    isOpen.value = false
    await client.invalidateQueries({ queryKey: ['lists'] })
    await router.push(`/catalog/list/${id}`)
  },
})
watch(isOpen, (now) => {
  if (!now) return
  name.value = proposed.value
  keeping.reset()
})
</script>

<template>
  <el-popover v-model:visible="isOpen" trigger="click" :width="320" placement="bottom-start">
    <template #reference>
      <button type="button" class="link" data-test="keep-narrowing" :aria-expanded="isOpen">
        {{ t('narrow.keep') }}
      </button>
    </template>
    <form class="keep" @submit.prevent="name.trim() && keeping.mutate()">
      <p class="soft">{{ t('narrow.keepHow') }}</p>
      <input
        v-model="name"
        maxlength="120"
        :aria-label="t('lists.nameNew')"
        data-test="narrowing-name"
      />
      <p v-if="keeping.error.value" class="trouble" role="alert">
        {{ keeping.error.value.message }}
      </p>
      <el-button
        native-type="submit"
        type="primary"
        :disabled="!name.trim() || keeping.isPending.value"
        >{{ t('page.keep') }}</el-button
      >
    </form>
  </el-popover>
</template>

<style scoped>
.keep {
  display: grid;
  gap: 8px;
}
p {
  margin: 0;
  font-size: 13px;
}
input {
  height: 32px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.trouble {
  color: var(--stamp);
}
</style>
