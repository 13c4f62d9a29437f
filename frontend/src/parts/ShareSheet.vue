<script setup lang="ts">
/** Shares one entry or one list by a link: until when, for whom, and what may be done with it. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import LinkMade from './LinkMade.vue'
import ProblemNote from './ProblemNote.vue'

const props = defineProps<{ entryId?: number; listId?: number; title: string }>()
const DAYS = [1, 7, 30, 365]
const { t } = useI18n()
const client = useQueryClient()
const open = ref(false)
const form = reactive({
  days: 7,
  password: '',
  views: '' as number | '',
  download: false,
  intake: null as number | null,
  megabytes: 500,
})
const { data } = useQuery({
  queryKey: ['shares'],
  queryFn: () => ask(api.GET('/api/shares')),
})
const sharing = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/shares', {
        body: {
          entry_id: props.entryId ?? null,
          list_id: props.listId ?? null,
          days: form.days,
          password: form.password,
          most_views: form.views || null,
          may_download: form.download,
          intake_id: form.intake,
          upload_megabytes: form.intake ? form.megabytes : 0,
        },
      }),
    ),
  onSuccess: () => client.invalidateQueries({ queryKey: ['shares'] }),
})
function close(): void {
  sharing.reset()
  form.password = ''
}
</script>

<template>
  <button v-if="data?.may_share" class="pill" data-test="share" @click="open = true">
    <span aria-hidden="true">↗</span> {{ t('share.share') }}
  </button>
  <el-dialog
    v-model="open"
    :title="t('share.title', { title })"
    width="560px"
    class="sheet"
    append-to-body
    @closed="close"
  >
    <LinkMade
      v-if="sharing.data.value"
      :link="sharing.data.value.link"
      :picture="sharing.data.value.picture"
      :lead="t('share.send')"
      :hint="form.password ? t('share.sendPassword') : t('share.whoever')"
    />
    <form v-else class="fields" @submit.prevent="sharing.mutate()">
      <label
        >{{ t('share.days') }}
        <select v-model="form.days" name="share-days">
          <option v-for="days in DAYS" :key="days" :value="days">
            {{ t('invite.days', days) }}
          </option>
        </select></label
      >
      <label
        >{{ t('share.password')
        }}<input
          v-model="form.password"
          name="share-password"
          maxlength="200"
          autocomplete="off"
          :placeholder="t('share.none')"
      /></label>
      <label
        >{{ t('share.views')
        }}<input
          v-model.number="form.views"
          type="number"
          min="1"
          max="100000"
          :placeholder="t('share.any')"
        /><span class="faint">{{ t('share.viewIs') }}</span></label
      >
      <label v-if="data?.intakes.length"
        >{{ t('share.handIn') }}
        <select v-model="form.intake">
          <option :value="null">{{ t('share.noHandIn') }}</option>
          <option v-for="one in data.intakes" :key="one.id" :value="one.id">{{ one.path }}</option>
        </select></label
      >
      <label v-if="form.intake"
        >{{ t('share.megabytes')
        }}<input v-model.number="form.megabytes" type="number" min="1" max="1000000"
      /></label>
      <label class="tick"
        ><input v-model="form.download" type="checkbox" name="share-download" />
        {{ t('share.download') }}</label
      >
      <ProblemNote v-if="sharing.error.value" :error="sharing.error.value" class="wide" />
      <p class="wide">
        <el-button
          native-type="submit"
          type="primary"
          :loading="sharing.isPending.value"
          data-test="make-link"
          >{{ t('share.make') }}</el-button
        >
      </p>
    </form>
  </el-dialog>
</template>
