<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Job, Plan } from '@/api/client'
import { bytes } from '@/composables/words'
import DiffName from '@/parts/DiffName.vue'
import JobRow from '@/parts/JobRow.vue'

const SHOWN = 400
const props = defineProps<{ plans: Plan[]; jobs: Job[]; busy: boolean; plain?: boolean }>()
const emit = defineEmits<{ apply: []; undo: []; close: [] }>()
const { t, locale } = useI18n()
const count = computed(() => props.plans.reduce((sum, plan) => sum + plan.count, 0))
const folders = computed(() => props.plans.reduce((sum, plan) => sum + plan.folders, 0))
const copied = computed(() => props.plans.reduce((sum, plan) => sum + plan.bytes_to_copy, 0))
const conflicts = computed(() => props.plans.flatMap((plan) => plan.conflicts))
const left = computed(() => props.plans.flatMap((plan) => plan.left))
const writes = computed(() => props.plans.some((plan) => plan.kind === 'write'))
/** What is written, in words: `facts`, or `tags` with their names. */
const what = (text: string) => {
  const [kind, ...fields] = text.split(' ')
  return t(`plan.what.${kind}`, { fields: fields.map((field) => t(`field.${field}`)).join(', ') })
}
const state = computed(() =>
  props.plans.some((p) => p.state === 'running')
    ? 'running'
    : (props.plans.find((p) => p.state !== 'draft')?.state ?? 'draft'),
)
</script>

<template>
  <section class="sheet" aria-live="polite">
    <header>
      <h1>{{ t(`plan.${state}`) }}</h1>
      <span class="soft">{{ plans.map((p) => p.title).join(', ') }}</span>
      <button class="link back" @click="emit('close')">{{ t('plan.back') }}</button>
    </header>
    <dl class="card sums">
      <div>
        <dt>{{ t(writes ? 'plan.written' : 'plan.moves') }}</dt>
        <dd class="mono">{{ count }}</dd>
      </div>
      <div v-if="!writes">
        <dt>{{ t('plan.folders') }}</dt>
        <dd class="mono">{{ folders }}</dd>
      </div>
      <div v-if="!writes">
        <dt>{{ t('plan.copied') }}</dt>
        <dd class="mono">{{ copied ? bytes(copied, locale) : t('plan.nothing') }}</dd>
      </div>
      <div>
        <dt>{{ t('plan.conflicts') }}</dt>
        <dd class="mono" :class="{ bad: conflicts.length }">{{ conflicts.length }}</dd>
      </div>
    </dl>
    <div v-if="jobs.length" class="card">
      <JobRow v-for="job in jobs" :key="job.id" :job="job" />
    </div>
    <template v-if="left.length"
      ><h2>{{ t('plan.leftAlone') }}</h2>
      <div class="card rows">
        <p v-for="row in left" :key="row.path">
          <span class="mono">{{ row.path }}</span><span class="bad">{{ row.why }}</span>
        </p>
      </div></template
    >
    <template v-if="conflicts.length"
      ><h2>{{ t('plan.leftOut') }}</h2>
      <div class="card rows">
        <p v-for="row in conflicts" :key="row.before">
          <span class="mono">{{ row.before }}</span><span v-if="row.after" class="mono soft"
            >→ {{ row.after }}</span
          ><span class="bad">{{ row.why }}</span>
        </p>
      </div></template
    >
    <div v-if="count && writes" class="card rows">
      <p
        v-for="move in plans.flatMap((p) => p.moves).slice(0, SHOWN)"
        :key="move.after + move.what"
        class="write"
      >
        <span class="mono">{{ move.after }}</span><span class="soft"
          >{{ what(move.what)
          }}<template v-if="!move.before">, {{ t('plan.fresh') }}</template></span
        >
      </p>
      <p v-if="count > SHOWN" class="soft">{{ t('plan.more', { n: count - SHOWN }) }}</p>
    </div>
    <div v-else-if="count" class="card rows moves">
      <DiffName
        v-for="move in plans.flatMap((p) => p.moves).slice(0, SHOWN)"
        :key="move.folder_id + move.before"
        :before="move.before"
        :after="move.after"
      />
      <p v-if="count > SHOWN" class="soft">{{ t('plan.more', { n: count - SHOWN }) }}</p>
    </div>
    <p v-else class="soft">{{ t(writes ? 'plan.nothingToWrite' : 'plan.empty') }}</p>
    <footer v-if="state !== 'undone' && state !== 'running'">
      <template v-if="state === 'draft'"
        ><el-button type="primary" :disabled="!count || busy" @click="emit('apply')"
          >{{ t('plan.apply') }} <kbd v-if="!plain">Enter</kbd></el-button
        ><span class="soft">{{ t(writes ? 'plan.promiseWrite' : 'plan.promise') }}</span></template
      >
      <template v-else-if="state === 'done' || state === 'stopped'"
        ><el-button v-if="state === 'stopped' && !writes" :disabled="busy" @click="emit('apply')">{{
          t('plan.goOn')
        }}</el-button
        ><el-button :disabled="busy" @click="emit('undo')"
          >{{ t('plan.undo') }} <kbd v-if="!plain">u</kbd></el-button
        ><span class="soft">{{ t('plan.later') }}</span></template
      >
    </footer>
  </section>
</template>

<style scoped>
.sheet {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding-bottom: 0;
  flex: 1;
}
header {
  display: flex;
  align-items: baseline;
  gap: 12px;
}
.back {
  margin-inline-start: auto;
}
.sums {
  display: flex;
  flex-wrap: wrap;
  margin: 0;
  padding: 10px 16px;
  gap: 8px 40px;
}
dt {
  font-size: 12px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-size: 16px;
}
.rows {
  padding: 4px 14px;
}
.rows p {
  display: flex;
  flex-direction: column;
  margin: 0;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.rows p:last-child {
  border: 0;
}
.rows .write {
  flex-direction: row;
  justify-content: space-between;
  gap: 4px 24px;
  flex-wrap: wrap;
}
.moves > :deep(.diff) {
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.moves > :deep(.diff:last-child) {
  border: 0;
}
.bad {
  color: var(--stamp);
}
footer {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin: auto -22px 0;
  padding: 12px 22px;
  background: var(--desk);
  border-top: 1px solid var(--rule);
}
footer kbd {
  margin-inline-start: 8px;
}
@media (max-width: 860px) {
  footer {
    margin: auto -12px 0;
  }
}
</style>
