<script setup lang="ts">
/** Invitations inside the house: what others watch together, at the foot of every page. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'

const { t } = useI18n()
const { data } = useQuery({
  queryKey: ['together'],
  queryFn: () => ask(api.GET('/api/together')),
})
const declined = ref(new Set<string>())
const shown = computed(() =>
  (data.value?.parties ?? []).filter((one) => !declined.value.has(one.key)),
)
const decline = (key: string) => (declined.value = new Set([...declined.value, key]))
</script>

<template>
  <div v-if="shown.length" class="notes">
    <p v-for="one in shown" :key="one.key" class="card" role="status" data-test="invited">
      <span
        >{{ t('together.invites', { name: one.host }) }} <b>{{ one.title }}</b></span
      >
      <RouterLink class="act" :to="`/play/${one.entry_id}?with=${one.key}`">{{
        t('together.come')
      }}</RouterLink>
      <button class="link" @click="decline(one.key)">{{ t('together.notNow') }}</button>
    </p>
  </div>
</template>

<style scoped>
.notes {
  position: fixed;
  inset: auto 20px calc(20px + var(--player-space, 0px)) auto;
  z-index: 40;
  display: grid;
  gap: 10px;
  max-width: min(420px, calc(100vw - 24px));
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: baseline;
  margin: 0;
  padding: 12px 16px;
  border-inline-start: 4px solid var(--accent);
  box-shadow: var(--shadow);
}
p > span {
  flex-basis: 100%;
}
b {
  font-family: var(--serif);
}
.act {
  font-weight: 600;
}
@media (max-width: 760px) {
  .notes {
    inset-inline: 12px;
    bottom: calc(72px + var(--player-space, 0px));
  }
}
</style>
