<script setup lang="ts">
/** What waits, albums of one artist under their head, and what was decided lately. */
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { EntryCard } from '@/api/client'
import { groupOf } from '@/composables/useWaiting'
import StateSign from '@/parts/StateSign.vue'

const props = defineProps<{
  waiting: EntryCard[]
  total: number
  /** How many wait, and how many were taken without a person: what the two lists are headed by. */
  counts: [number, number]
  current: EntryCard | undefined
  decided: EntryCard[]
  again: boolean
}>()
const emit = defineEmits<{
  choose: [id: number]
  takeAll: [cards: EntryCard[]]
  undo: [id: number]
  more: []
}>()
const { t } = useI18n()
const listed = computed(() =>
  props.waiting.map((card, place, all) => {
    const name = groupOf(card)
    const alike = name ? all.filter((other) => groupOf(other) === name) : []
    return {
      card,
      head: alike.length > 1 && groupOf(all[place - 1]) !== name ? alike : undefined,
      isInner: alike.length > 1 && name === groupOf(props.current),
    }
  }),
)
</script>

<template>
  <aside>
    <nav class="lists" :aria-label="t('matches.title')">
      <RouterLink :to="{ query: {} }" :class="{ at: !again }"
        >{{ t('today.waits') }} <span class="mono">{{ counts[0] }}</span></RouterLink
      >
      <RouterLink
        :to="{ query: { list: 'again' } }"
        :class="{ at: again }"
        :title="t('matches.againHow')"
        >{{ t('matches.again') }} <span class="mono">{{ counts[1] }}</span></RouterLink
      >
    </nav>
    <template v-for="{ card, head, isInner } in listed" :key="card.id">
      <p v-if="head" class="group">
        <b>{{ card.subtitle }}</b><button class="link" @click="emit('takeAll', head)">
          {{ t('matches.takeGroup', head.length) }}
        </button>
      </p>
      <button
        class="plain item"
        :class="{ at: card.id === current?.id, inner: isInner }"
        @click="emit('choose', card.id)"
      >
        <StateSign :state="card.state" /><span
          >{{ card.title
          }}<small class="faint">{{
            [card.subtitle, card.year].filter(Boolean).join(', ')
          }}</small></span
        >
      </button>
    </template>
    <button
      v-if="waiting.length < total"
      class="link later more"
      data-test="more"
      @click="emit('more')"
    >
      {{ t('today.more', { n: total - waiting.length }) }}
    </button>
    <template v-if="decided.length">
      <p class="label later">{{ t('matches.decided') }}</p>
      <div v-for="entry in decided" :key="entry.id" class="item done">
        <StateSign :state="entry.state" /><RouterLink :to="`/catalog/entry/${entry.id}`">{{
          entry.title
        }}</RouterLink
        ><button class="link" @click="emit('undo', entry.id)">{{ t('matches.undo') }}</button>
      </div>
    </template>
  </aside>
</template>

<style scoped>
aside {
  border-inline-end: 1px solid var(--rule);
  padding: 16px 0;
}
.label {
  margin: 0 20px 6px;
}
.lists {
  display: flex;
  gap: 2px;
  margin: 0 12px 10px;
  border-bottom: 1px solid var(--rule);
}
.lists a {
  padding: 4px 8px 6px;
  color: var(--ink-soft);
  font-weight: 500;
  font-size: 13px;
}
.lists a:hover {
  text-decoration: none;
  color: var(--ink);
}
.lists a.at {
  color: var(--ink);
  box-shadow: inset 0 -2px 0 var(--accent);
}
.group {
  display: flex;
  flex-direction: column;
  align-items: start;
  gap: 1px;
  margin: 10px 20px 2px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  line-height: 1.3;
}
.group b {
  font: 700 14px var(--serif);
}
.group .link {
  font-size: 12.5px;
}
.later {
  margin-top: 26px;
}
.more {
  margin: 10px 20px;
}
.item {
  display: grid;
  grid-template-columns: 16px 1fr;
  gap: 8px;
  align-items: start;
  width: 100%;
  padding: 6px 14px 6px 17px;
  border-inline-start: 3px solid transparent;
  line-height: 1.3;
}
.item:hover:not(.done) {
  background: color-mix(in srgb, var(--accent-soft) 60%, transparent);
}
.item.at {
  background: var(--card);
  border-inline-start-color: var(--accent);
  font-weight: 500;
}
.item small {
  display: block;
  font-weight: 400;
  font-size: 12px;
}
.done {
  grid-template-columns: 16px 1fr auto;
  font-size: 13px;
}
@media (max-width: 860px) {
  aside {
    border: 0;
    border-bottom: 1px solid var(--rule);
    max-height: 30vh;
    overflow: auto;
  }
}
</style>
