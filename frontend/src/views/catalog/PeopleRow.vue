<script setup lang="ts">
/** Who is in it and who made it: each leads to everything of theirs. */
import { useI18n } from 'vue-i18n'
import type { Entry } from '@/api/client'

defineProps<{ credits: Entry['credits'] }>()
const { t, te } = useI18n()
const did = (field: string) =>
  field === 'cast' ? '' : te(`with.${field}`) ? t(`credit.${field}`) : t(`field.${field}`)
const initial = (name: string) => Array.from(name)[0] ?? '?'
</script>

<template>
  <ul class="people">
    <li v-for="one in credits" :key="one.field + one.name">
      <RouterLink :to="{ path: '/catalog/with', query: { field: one.field, value: one.name } }">
        <span class="face" aria-hidden="true">{{ initial(one.name) }}</span>
        <span>{{ one.name }}</span>
        <small v-if="did(one.field)" class="soft">{{ did(one.field) }}</small>
      </RouterLink>
    </li>
  </ul>
</template>

<style scoped>
.people {
  display: flex;
  flex-wrap: wrap;
  gap: 14px 10px;
  margin: 18px 0 0;
  padding: 16px 0 0;
  border-top: 1px solid var(--rule);
  list-style: none;
}
li {
  width: 96px;
}
a {
  display: flex;
  flex-direction: column;
  align-items: center;
  color: var(--ink);
  font-size: 13px;
  line-height: 1.3;
  text-align: center;
  overflow-wrap: anywhere;
}
.face {
  display: grid;
  place-content: center;
  width: 58px;
  height: 58px;
  margin-bottom: 7px;
  border-radius: 50%;
  background: var(--desk);
  color: var(--accent);
  font: 700 21px var(--serif);
}
a:hover .face {
  background: var(--accent-soft);
}
small {
  font-size: 12px;
}
@media (max-width: 760px) {
  .people {
    flex-wrap: nowrap;
    overflow-x: auto;
  }
  li {
    flex: none;
    width: 84px;
  }
}
</style>
