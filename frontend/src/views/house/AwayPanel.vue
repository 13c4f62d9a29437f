<script setup lang="ts">
/** From away: what works from where, in words, step by step. It looks, and changes nothing. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { day } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, locale } = useI18n()
const open = ref(false)
const { data, error, refetch, isFetching } = useQuery({
  queryKey: ['from-away'],
  queryFn: () => ask(api.GET('/api/from-away')),
  enabled: open,
})
</script>

<template>
  <section data-test="from-away">
    <div class="head">
      <h2>{{ t('away.title') }}</h2>
      <el-button :loading="isFetching" @click="open ? refetch() : (open = true)">{{
        open ? t('away.again') : t('away.look')
      }}</el-button>
    </div>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <div v-if="data" class="card">
      <p class="row first">
        <span>{{ t('away.asked') }}</span> <span class="mono">{{ data.address }}</span>
      </p>
      <div v-for="step in data.steps" :key="step.name" class="row" :class="{ open: !step.fine }">
        <span class="sign" aria-hidden="true">{{ step.fine ? '✓' : '▲' }}</span>
        <div>
          <p>{{ t(`away.step.${step.name}.is`, step.values) }}</p>
          <p class="soft">{{ t(`away.step.${step.name}.how`, step.values) }}</p>
        </div>
      </div>
      <div v-if="data.certificate" class="row">
        <span></span>
        <div>
          <p>
            {{ t('away.until', { day: day(data.certificate.ends_at, locale) }) }}
            <span class="mono soft">{{ data.certificate.names.join(', ') }}</span>
          </p>
          <p class="mono soft print">SHA-256 {{ data.certificate.fingerprint }}</p>
        </div>
      </div>
    </div>
    <p v-else class="soft">{{ t('away.lead') }}</p>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr);
  gap: 4px 8px;
  padding: 9px 14px;
  border-bottom: 1px solid var(--rule);
}
.row:last-child {
  border: 0;
}
.first {
  display: flex;
  gap: 10px;
  margin: 0;
}
.row p {
  margin: 0;
  overflow-wrap: anywhere;
}
.sign {
  color: var(--moss);
}
.open .sign {
  color: var(--ochre);
}
.print {
  font-size: 12px;
}
</style>
