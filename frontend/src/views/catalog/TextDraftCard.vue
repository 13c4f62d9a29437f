<script setup lang="ts">
/** What would be written beside a film: where, and how it begins; then that it lies there, and a way back. */
import { useI18n } from 'vue-i18n'
import type { Plan, TextDraft } from '@/api/client'
import { clock } from '@/composables/words'

defineProps<{ draft: TextDraft; plan: Plan; busy: boolean }>()
const emit = defineEmits<{ apply: []; undo: []; close: [] }>()
const { t } = useI18n()
</script>

<template>
  <div class="card draft" role="status">
    <p>
      {{ t(draft.replaces ? 'texts.replaces' : 'texts.goes') }}
      <span class="mono">{{ draft.path }}</span>
    </p>
    <dl>
      <template v-for="line in draft.lines" :key="line.seconds"
        ><dt class="mono">{{ clock(line.seconds) }}</dt>
        <dd>{{ line.words }}</dd></template
      >
    </dl>
    <p v-for="left in plan.left" :key="left.path" class="wrong">{{ left.why }}</p>
    <p class="acts">
      <template v-if="plan.state === 'draft'"
        ><el-button type="primary" :loading="busy" data-test="keep-text" @click="emit('apply')">{{
          t('texts.keep')
        }}</el-button
        ><el-button :disabled="busy" @click="emit('close')">{{
          t('house.cancel')
        }}</el-button></template
      ><template v-else
        ><b v-if="!busy">{{
          t(plan.can_undo && !plan.left.length ? 'texts.kept' : 'texts.asBefore')
        }}</b
        ><el-button
          v-if="plan.can_undo && !plan.left.length"
          :loading="busy"
          data-test="undo-text"
          @click="emit('undo')"
          >{{ t('texts.undo') }}</el-button
        ><el-button :disabled="busy" @click="emit('close')">{{
          t('texts.done')
        }}</el-button></template
      >
    </p>
  </div>
</template>

<style scoped>
.draft {
  max-width: 860px;
  margin-bottom: 12px;
  padding: 12px 16px;
}
p {
  margin: 0 0 8px;
}
.mono {
  overflow-wrap: anywhere;
}
dl {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 3px 14px;
  margin: 0 0 10px;
  padding: 8px 12px;
  border-inline-start: 3px solid var(--rule-strong);
  font-size: 13px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  white-space: pre-line;
}
.wrong {
  color: var(--stamp);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 0;
}
.el-button {
  margin: 0;
}
</style>
