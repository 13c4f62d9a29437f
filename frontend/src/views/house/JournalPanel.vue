<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Plan } from '@/api/client'
import { moment } from '@/composables/words'
import DiffName from '@/parts/DiffName.vue'

const SHOWN = 200
const { t, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['plans'], queryFn: () => ask(api.GET('/api/plans')) })
const open = ref<Plan>()
const warn = (reason: Error) => void ElMessage({ message: reason.message, type: 'warning' })
async function show(plan: Plan): Promise<void> {
  open.value =
    open.value?.id === plan.id
      ? undefined
      : await ask(api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: plan.id } } }))
}
async function act(plan: Plan, undo: boolean): Promise<void> {
  const params = { path: { plan_id: plan.id } }
  await (
    undo
      ? ask(api.POST('/api/plans/{plan_id}/undo', { params, body: { only: null } }))
      : ask(api.POST('/api/plans/{plan_id}/apply', { params }))
  ).catch(warn)
  await client.invalidateQueries({ queryKey: ['jobs'] })
  await client.invalidateQueries({ queryKey: ['plans'] })
}
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.journal') }}</h2>
    </div>
    <div class="card">
      <template v-for="plan in data?.plans ?? []" :key="plan.id">
        <div class="row">
          <span class="what"
            ><b>{{ plan.title }}</b
            ><span v-if="plan.kind === 'write'">{{ t('house.wrote') }}</span
            ><span class="soft"
              >{{ t('house.planFiles', plan.count) }},
              {{ plan.applied_at ? moment(plan.applied_at, locale) : '' }}</span
            ><span v-for="row in plan.left.slice(0, 3)" :key="row.path" class="bad"
              >{{ row.path }}: {{ row.why }}</span
            ></span
          >
          <span class="state" :class="plan.state">{{ t(`plan.${plan.state}`) }}</span>
          <span class="acts"
            ><button class="link" :aria-expanded="open?.id === plan.id" @click="show(plan)">
              {{ t('house.planShow') }}</button
            ><button
              v-if="plan.state === 'stopped' && plan.kind !== 'write'"
              class="link"
              @click="act(plan, false)"
            >
              {{ t('plan.goOn') }}</button
            ><button v-if="plan.can_undo" class="link" @click="act(plan, true)">
              {{ t('plan.undo') }}
            </button></span
          >
        </div>
        <div v-if="open?.id === plan.id" class="moves">
          <template v-if="open.kind === 'write'"
            ><p
              v-for="move in open.moves.slice(0, SHOWN)"
              :key="move.after + move.what"
              class="mono wrote"
            >
              {{ move.after }}
            </p></template
          ><DiffName
            v-for="move in open.moves.slice(0, SHOWN)"
            v-else
            :key="move.before"
            :before="move.before"
            :after="move.after"
          />
        </div>
      </template>
      <p v-if="data && !data.plans.length" class="pad soft">{{ t('house.journalNone') }}</p>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 130px auto;
  gap: 4px 24px;
  align-items: center;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
}
.what {
  display: flex;
  flex-direction: column;
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  gap: 14px;
  justify-content: flex-end;
  min-width: 190px;
}
.state.done {
  color: var(--moss);
}
.state.stopped,
.bad {
  color: var(--stamp);
}
.moves {
  padding: 8px 14px;
  background: color-mix(in srgb, var(--paper) 55%, var(--card));
  border-bottom: 1px solid var(--rule);
  max-height: 320px;
  overflow: auto;
}
.wrote {
  margin: 0;
  padding: 2px 0;
  overflow-wrap: anywhere;
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
b {
  font-weight: 500;
}
@media (max-width: 860px) {
  .row {
    grid-template-columns: 1fr;
  }
  .acts {
    justify-content: flex-start;
  }
}
</style>
