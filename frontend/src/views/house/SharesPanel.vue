<script setup lang="ts">
/** Links that are shared: how often each was opened, until when it leads somewhere, and its end. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { useI18n } from 'vue-i18n'
import { api, ask, type ShareLine } from '@/api/client'
import { useStatus } from '@/composables/useStatus'
import { bytes, day } from '@/composables/words'

const { t, locale } = useI18n()
const client = useQueryClient()
const { data: status } = useStatus()
const { data } = useQuery({ queryKey: ['shares'], queryFn: () => ask(api.GET('/api/shares')) })
const ending = useMutation({
  mutationFn: (id: number) =>
    ask(api.DELETE('/api/shares/{share_id}', { params: { path: { share_id: id } } })),
  onSuccess: () => client.invalidateQueries({ queryKey: ['shares'] }),
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
const page = (one: ShareLine) =>
  one.list_id ? `/catalog/list/${one.list_id}` : `/catalog/entry/${one.entry_id ?? 0}`
const terms = (one: ShareLine) =>
  [
    one.by === status.value?.person ? '' : one.by,
    one.has_password ? t('share.withPassword') : '',
    one.may_download ? t('share.maySave') : '',
    one.takes_files
      ? t('share.takes', {
          used: bytes(one.uploaded_bytes, locale.value),
          most: bytes(one.upload_bytes, locale.value),
        })
      : '',
  ]
    .filter(Boolean)
    .join(', ')
const views = (one: ShareLine) =>
  one.most_views
    ? t('share.viewsOf', { n: one.views, most: one.most_views })
    : t('share.viewed', one.views)
</script>

<template>
  <section v-if="data && (data.may_share || data.shares.length)" data-test="shares">
    <div class="head">
      <h2>{{ t('share.links') }}</h2>
    </div>
    <div class="card">
      <p v-for="one in data.shares" :key="one.id" class="lined row" :class="{ over: one.is_over }">
        <span class="named"
          ><RouterLink :to="page(one)">{{ one.title }}</RouterLink>
          <span class="soft">{{ terms(one) }}</span></span
        >
        <span class="soft">{{ views(one) }}</span>
        <span class="soft">{{
          t(one.is_over ? 'share.ended' : 'share.until', { day: day(one.ends_at, locale) })
        }}</span>
        <button class="link end" @click="ending.mutate(one.id)">
          {{ one.is_over ? t('share.forget') : t('share.end') }}
        </button>
      </p>
      <p v-if="!data.shares.length" class="lined soft">{{ t('share.noLinks') }}</p>
    </div>
  </section>
</template>

<style scoped>
.row {
  grid-template-columns: minmax(0, 1fr) 130px 220px 72px;
}
.over {
  opacity: 0.7;
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .named {
    grid-column: 1 / -1;
  }
}
</style>
