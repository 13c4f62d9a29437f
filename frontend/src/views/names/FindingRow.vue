<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Finding } from '@/api/client'
import type { Choice } from '@/composables/useChoices'
import DiffName from '@/parts/DiffName.vue'

const MOVES_SHOWN = 4
const props = defineProps<{
  finding: Finding
  choice: Choice | undefined
  at: boolean
  editing: boolean
  title?: string
  reasons?: string[]
  after: (before: string, proposed: string) => string
}>()
const emit = defineEmits<{
  choose: [choice: Choice | undefined]
  edit: []
  write: [after: string]
  cancel: []
  excuse: []
  here: []
}>()
const { t } = useI18n()
const moves = computed(() => props.finding.moves.filter((move) => move.after))
const leaf = computed(() => {
  const parts = props.finding.path.replace(/\/$/, '').split('/')
  return (parts.at(-1) ?? '') + (props.finding.path.endsWith('/') ? '/' : '')
})
const text = ref('')
const field = ref<HTMLInputElement>()
watch(
  () => props.editing,
  async (editing) => {
    const main = moves.value[0]
    if (!editing || !main) return
    text.value = props.after(main.before, main.after ?? '')
    await nextTick()
    const end = text.value.lastIndexOf('.')
    field.value?.focus()
    field.value?.setSelectionRange(
      text.value.lastIndexOf('/') + 1,
      end > 0 ? end : text.value.length,
    )
  },
)
/** A path without the finding's own folder, where the new one lies in it as well. */
function tail(path: string, other: string): string {
  const { path: own } = props.finding
  return own.endsWith('/') && path.startsWith(own) && other.startsWith(own)
    ? path.slice(own.length)
    : path
}
</script>

<template>
  <div class="finding" :class="[{ at }, choice]" :data-id="finding.id" @click="emit('here')">
    <span
      class="shape"
      :class="finding.severity"
      role="img"
      :aria-label="t(`names.severity.${finding.severity}`)"
      >{{ finding.severity === 'problem' ? '▲' : '△' }}</span
    >
    <div class="what">
      <form
        v-if="editing"
        class="edit"
        @submit.prevent="emit('write', text)"
        @keydown.esc.stop="emit('cancel')"
      >
        <span class="mono faint">{{ moves[0]?.before }}</span>
        <input
          ref="field"
          v-model="text"
          class="mono"
          :aria-label="t('names.newName')"
          spellcheck="false"
          @blur="emit('cancel')"
        />
      </form>
      <template v-else-if="moves.length">
        <DiffName
          v-for="move in moves.slice(0, MOVES_SHOWN)"
          :key="move.before"
          :before="tail(move.before, after(move.before, move.after ?? ''))"
          :after="tail(after(move.before, move.after ?? ''), move.before)"
        />
        <span v-if="moves.length > MOVES_SHOWN" class="faint">{{
          t('names.more', { n: moves.length - MOVES_SHOWN })
        }}</span>
      </template>
      <span v-else class="mono">{{ leaf }}</span>
      <span class="message soft">{{ finding.message }}</span>
      <span v-for="reason in reasons" :key="reason" class="message soft">{{ reason }}</span>
    </div>
    <span class="side">
      <span v-if="choice" class="stamp" :class="choice">{{
        t(choice === 'accept' ? 'names.accepted' : 'names.skipped')
      }}</span>
      <span v-else class="faint">{{
        title ??
        (!finding.fix ? t('names.noFix') : finding.fix_kind === 'look' ? t('names.look') : '')
      }}</span>
      <span v-if="at && !editing" class="acts">
        <template v-if="finding.fix"
          ><button
            class="link"
            @click.stop="emit('choose', choice === 'accept' ? undefined : 'accept')"
          >
            {{ choice === 'accept' ? t('names.unaccept') : t('names.accept') }}</button
          ><button class="link" @click.stop="emit('edit')">{{ t('names.edit') }}</button></template
        >
        <button class="link" @click.stop="emit('choose', choice === 'skip' ? undefined : 'skip')">
          {{ t('names.skip') }}
        </button>
        <button class="link" @click.stop="emit('excuse')">{{ t('names.excuse') }}</button>
      </span>
    </span>
  </div>
</template>

<style scoped>
.finding {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 8px;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
  cursor: default;
}
.finding:last-child {
  border: 0;
}
.finding.at {
  box-shadow: inset 0 0 0 2px var(--accent);
  border-radius: 3px;
}
.finding.accept {
  background: color-mix(in srgb, var(--moss-soft) 45%, transparent);
}
.finding.skip {
  opacity: 0.55;
}
.what {
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 1px;
  overflow-wrap: anywhere;
}
.message {
  font-size: 12.5px;
}
.side {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  justify-content: space-between;
  gap: 4px;
  font-size: 12px;
  white-space: nowrap;
}
.acts {
  display: flex;
  gap: 12px;
}
.stamp {
  font: 600 11px var(--sans);
  letter-spacing: 0.06em;
  text-transform: uppercase;
  padding: 1px 7px;
  border: 1.5px solid currentColor;
  border-radius: 3px;
  transform: rotate(-2deg);
}
.stamp.accept {
  color: var(--moss);
}
.stamp.skip {
  color: var(--ink-faint);
}
.shape {
  font:
    13px/1.5 'DejaVu Sans',
    var(--sans);
  color: var(--ink-soft);
}
.shape.problem {
  color: var(--stamp);
}
.edit {
  display: flex;
  flex-direction: column;
  gap: 3px;
}
.edit input {
  width: 100%;
  padding: 5px 7px;
  border: 1px solid var(--accent);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
}
@media (max-width: 860px) {
  .finding {
    grid-template-columns: 16px minmax(0, 1fr);
  }
  .side {
    grid-column: 2;
    align-items: flex-start;
    flex-direction: row;
    flex-wrap: wrap;
  }
}
</style>
