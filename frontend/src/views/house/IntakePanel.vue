<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const { t } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['intakes'], queryFn: () => ask(api.GET('/api/intakes')) })
const path = ref('')
const error = ref<Error>()
async function attempt(work: () => Promise<unknown>): Promise<void> {
  error.value = undefined
  await work().catch((reason: Error) => (error.value = reason))
  await client.invalidateQueries({ queryKey: ['intakes'] })
}
async function add(): Promise<void> {
  await attempt(() =>
    ask(api.POST('/api/intakes', { body: { path: path.value.trim(), alone: false } })),
  )
  if (!error.value) path.value = ''
}
const setAlone = (where: string, alone: boolean) =>
  attempt(() => ask(api.POST('/api/intakes', { body: { path: where, alone } })))
const remove = (id: number) =>
  attempt(() =>
    ask(api.DELETE('/api/intakes/{intake_id}', { params: { path: { intake_id: id } } })),
  )
</script>

<template>
  <section>
    <div class="head">
      <h2>{{ t('house.intake') }}</h2>
    </div>
    <ProblemNote v-if="error" :error="error" />
    <div class="card">
      <div v-for="intake in data?.intakes ?? []" :key="intake.id" class="row">
        <span class="mono"
          >{{ intake.path }}<em v-if="intake.problem"> {{ intake.problem }}</em></span
        >
        <label
          ><input
            type="checkbox"
            :checked="intake.alone"
            @change="setAlone(intake.path, ($event.target as HTMLInputElement).checked)"
          />
          {{ t('house.intakeAlone') }}</label
        >
        <button class="link" @click="remove(intake.id)">{{ t('house.forget') }}</button>
      </div>
      <p v-if="data && !data.intakes.length" class="pad soft">{{ t('house.intakeNone') }}</p>
      <form class="pad add" @submit.prevent="add">
        <el-input
          v-model="path"
          :placeholder="t('house.intakePath')"
          :aria-label="t('house.intakePath')"
          class="mono"
        /><el-button native-type="submit" :disabled="!path.trim()">{{
          t('house.intakeAdd')
        }}</el-button>
      </form>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 24px;
  align-items: center;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
em {
  color: var(--stamp);
  font: 12.5px var(--sans);
}
.pad {
  margin: 0;
  padding: 10px 14px;
}
.add {
  display: flex;
  gap: 10px;
  max-width: 640px;
}
@media (max-width: 860px) {
  .row {
    grid-template-columns: 1fr;
  }
}
</style>
