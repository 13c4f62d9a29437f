<script setup lang="ts">
/** Who plays what at the moment, how it reaches them, and a way to stop it. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { useI18n } from 'vue-i18n'
import { api, ask, type Playing } from '@/api/client'
import { moment } from '@/composables/words'

const { t, n, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['playings'],
  queryFn: () => ask(api.GET('/api/playbacks')),
  refetchInterval: (query) => (query.state.data?.playings.length ? 3000 : false),
})
const stopping = useMutation({
  mutationFn: (one: Playing) =>
    ask(api.DELETE('/api/playbacks/{key}', { params: { path: { key: one.key } } })),
  onSuccess: () => client.invalidateQueries({ queryKey: ['playings'] }),
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
</script>

<template>
  <section v-if="data?.playings.length" class="card playings" data-test="playings">
    <h2>{{ t('playings.title') }}</h2>
    <ul>
      <li v-for="one in data.playings" :key="one.key">
        <span class="who">{{ one.person }}</span>
        <span class="what">
          <RouterLink :to="`/catalog/entry/${one.entry_id}`">{{ one.title }}</RouterLink>
          <span class="soft">
            {{ t(`player.mode.${one.mode}`)
            }}<template v-if="one.height"> · {{ one.height }}p</template>
            <template v-if="one.machine"> · {{ t('playings.on', { name: one.machine }) }}</template>
            <template v-if="one.speed"> · {{ t('playings.speed', { n: n(one.speed) }) }}</template>
          </span>
          <span v-for="reason in one.reasons" :key="reason" class="faint">{{
            t(`player.reason.${reason}`)
          }}</span>
        </span>
        <span class="soft">{{ t('playings.since', { at: moment(one.began_at, locale) }) }}</span>
        <button class="link" @click="stopping.mutate(one)">{{ t('playings.stop') }}</button>
      </li>
    </ul>
    <p class="faint">{{ t('playings.most', { n: data.most }) }}</p>
  </section>
</template>

<style scoped>
.playings {
  padding: 14px 18px;
  margin-bottom: 18px;
}
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 120px 1fr auto auto;
  gap: 4px 18px;
  align-items: baseline;
  padding: 7px 0;
  border-top: 1px solid var(--rule);
}
.who {
  font-weight: 500;
  overflow-wrap: anywhere;
}
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  min-width: 0;
}
p {
  margin: 0;
  font-size: 13px;
}
@media (max-width: 760px) {
  li {
    grid-template-columns: 1fr auto;
  }
}
</style>
