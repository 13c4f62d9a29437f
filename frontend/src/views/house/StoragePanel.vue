<script setup lang="ts">
/** What Indice keeps takes how much, and where; what can be made again is cleaned. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { bytes } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t, n, locale } = useI18n()
const client = useQueryClient()
const { data, error, isPending } = useQuery({
  queryKey: ['storage'],
  queryFn: () => ask(api.GET('/api/storage')),
})
type What = 'segments' | 'pictures' | 'bins'
const CLEANED: readonly string[] = ['segments', 'pictures', 'bins'] satisfies What[]
const cleaning = useMutation({
  mutationFn: (what: string) =>
    ask(api.POST('/api/storage/clean', { body: { what: what as What } })),
  onSuccess: (told) => {
    ElMessage({
      message: told.freed_bytes
        ? t('storage.freed', { size: bytes(told.freed_bytes, locale.value) })
        : t('storage.nothing'),
      type: 'success',
    })
    return client.invalidateQueries({ queryKey: ['storage'] })
  },
  onError: (reason: Error) => ElMessage({ message: reason.message, type: 'warning' }),
})
const held = computed(() => data.value?.held.filter((one) => one.size_bytes > 0) ?? [])
const most = computed(() => Math.max(1, ...held.value.map((one) => one.size_bytes)))
const disks = computed(
  () =>
    data.value?.disks.map((one) => ({
      ...one,
      used: 100 * (1 - one.free_bytes / Math.max(one.total_bytes, 1)),
      isLow: one.holds.includes('data') && one.free_bytes < (data.value?.little_bytes ?? 0),
      what: one.holds.map((what) => t(`storage.holds.${what}`)).join(', '),
    })) ?? [],
)
const share = (value: number) => n(value / 100, { style: 'percent', maximumFractionDigits: 0 })
</script>

<template>
  <section data-test="storage">
    <div class="head">
      <h2>{{ t('storage.title') }}</h2>
    </div>
    <ProblemNote v-if="error" :error="error" />
    <p v-else-if="isPending" class="card pad soft" role="status">{{ t('storage.counting') }}</p>
    <div v-else class="card">
      <ul class="held">
        <li v-for="one in held" :key="one.what + one.path">
          <b>{{ t(`storage.what.${one.what}`) }}</b>
          <span class="mono faint path">{{ one.path }}</span>
          <span class="rod" aria-hidden="true"
            ><i :style="{ width: `${(100 * one.size_bytes) / most}%` }"></i
          ></span>
          <span class="mono size">
            {{
              one.is_about
                ? t('storage.about', { size: bytes(one.size_bytes, locale) })
                : bytes(one.size_bytes, locale)
            }}
            <span v-if="one.limit_bytes" class="faint">{{
              t('storage.limit', { size: bytes(one.limit_bytes, locale) })
            }}</span>
          </span>
          <button
            v-if="CLEANED.includes(one.what)"
            class="link"
            :disabled="cleaning.isPending.value"
            :title="t(`storage.cleanHint.${one.what}`)"
            @click="cleaning.mutate(one.what)"
          >
            {{ t(one.what === 'bins' ? 'storage.empty' : 'storage.clean') }}
          </button>
        </li>
      </ul>
      <ul class="disks">
        <li v-for="one in disks" :key="one.path" :class="{ low: one.isLow }">
          <span class="what">{{ one.what }}</span>
          <span class="mono faint path">{{ one.path }}</span>
          <span>{{
            t('storage.free', {
              free: bytes(one.free_bytes, locale),
              total: bytes(one.total_bytes, locale),
              share: share(one.used),
            })
          }}</span>
          <span v-if="one.isLow" class="warning">{{ t('storage.low') }}</span>
        </li>
      </ul>
      <p class="foot faint">
        {{ t('storage.home', { path: data?.home }) }}
        <span class="mono">./indice move-data</span>
      </p>
    </div>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  gap: 4px 16px;
  align-items: baseline;
  padding: 7px 14px;
}
.held li {
  grid-template-columns: 170px minmax(0, 1fr) 120px 190px 76px;
  border-bottom: 1px solid var(--rule);
}
.disks {
  padding: 8px 0;
}
.disks li {
  grid-template-columns: 170px minmax(0, 1fr) auto;
  padding: 4px 14px;
}
b {
  font-weight: 500;
}
.path {
  min-width: 0;
  overflow-wrap: anywhere;
}
.rod {
  height: 7px;
  align-self: center;
  border-radius: 2px;
  background: var(--rule);
}
.rod i {
  display: block;
  height: 100%;
  min-width: 2px;
  border-radius: 2px;
  background: var(--accent);
}
.size {
  text-align: end;
}
.low,
.warning {
  color: var(--red);
}
.warning {
  grid-column: 1 / -1;
}
.foot {
  margin: 0;
  padding: 8px 14px 12px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
@media (max-width: 760px) {
  .held li,
  .disks li {
    grid-template-columns: 1fr auto;
  }
  .path {
    grid-column: 1 / -1;
    order: 3;
  }
  .rod {
    display: none;
  }
}
</style>
