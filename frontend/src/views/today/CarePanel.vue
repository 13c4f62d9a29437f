<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, ask, type Today } from '@/api/client'
import { deviceName, moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'
import StateSign from '@/parts/StateSign.vue'

/** What only a person can say or should know: files that vanished all at once, and somebody who guesses passwords. */
defineProps<{
  guesses: Today['guesses']
  absences: Today['absences']
  newcomers: Today['newcomers']
}>()
const { t, locale } = useI18n()
const client = useQueryClient()
const settle = useMutation({
  mutationFn: (asked: { id: number; gone: boolean }) =>
    ask(
      api.POST('/api/libraries/{library_id}/away', {
        params: { path: { library_id: asked.id } },
        body: { gone: asked.gone },
      }),
    ),
  onSuccess: () => client.invalidateQueries(),
})
</script>

<template>
  <template v-if="guesses.length || absences.length || newcomers.length">
    <h2>{{ t('care.title') }}</h2>
    <ul class="card">
      <li v-for="one in absences" :key="one.folder">
        <p>
          <StateSign state="away" />
          {{ t('care.absent', { n: one.files }, one.files) }}
          <span class="mono soft">{{ one.folder }}</span>
        </p>
        <p class="soft">{{ t('care.absentHow') }}</p>
        <p class="acts">
          <button class="link" @click="settle.mutate({ id: one.library_id, gone: false })">
            {{ t('care.keep') }}
          </button>
          <button class="link" @click="settle.mutate({ id: one.library_id, gone: true })">
            {{ t('care.gone') }}
          </button>
        </p>
      </li>
      <li v-for="one in guesses" :key="one.name + one.address">
        <p>
          {{
            one.name
              ? t('care.guessed', { name: one.name, n: one.wrong }, one.wrong)
              : t('care.guessedMany', { n: one.wrong }, one.wrong)
          }}
        </p>
        <p class="soft">
          <span class="mono">{{ one.address }}</span>
          {{ moment(one.at, locale) }}
        </p>
      </li>
      <li v-for="one in newcomers" :key="one.at">
        <p>{{ t('care.newcomer', { name: one.person }) }}</p>
        <p class="soft">
          {{ deviceName(one.device) || one.device }} <span class="mono">{{ one.address }}</span>
          {{ moment(one.at, locale) }}
        </p>
      </li>
    </ul>
    <ProblemNote v-if="settle.error.value" :error="settle.error.value" />
  </template>
</template>

<style scoped>
h2 {
  margin: 5px 0 8px;
}
ul {
  list-style: none;
  margin: 0 0 22px;
  padding: 0;
}
li {
  padding: 8px 12px;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
li:last-child {
  border: 0;
}
p {
  margin: 0 0 2px;
}
.acts {
  display: flex;
  gap: 16px;
}
</style>
