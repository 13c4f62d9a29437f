<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'

const props = defineProps<{ fileId: number }>()
const { t, te } = useI18n()
const id = computed(() => props.fileId)
const { data } = useQuery({
  queryKey: ['ways', id],
  queryFn: () =>
    ask(api.GET('/api/files/{file_id}/ways', { params: { path: { file_id: id.value } } })),
})
const ways = computed(() => data.value?.ways ?? [])
const option = (name: string) => (te(`way.option.${name}`) ? t(`way.option.${name}`) : name)
const label = (name: string) =>
  te(`way.label.${name}`) ? t(`way.label.${name}`) : te(`field.${name}`) ? t(`field.${name}`) : name
const point = (name: string, count: number) =>
  t(`way.point.${name}`, { n: Math.abs(count) }, Math.abs(count))
</script>

<template>
  <div v-if="ways.length" class="ways">
    <p class="label">{{ t('way.title') }}</p>
    <section v-for="way in ways" :key="way.question + way.subject">
      <p class="question">
        {{ t(`way.question.${way.question}`) }} <q class="mono">{{ way.subject }}</q>
      </p>
      <ol>
        <li v-for="(one, place) in way.options" :key="place" :class="{ won: one.won }">
          <span class="name"
            >{{ option(one.name)
            }}<small v-if="one.won" class="stamp">{{ t('way.won') }}</small></span
          >
          <span class="pieces"
            ><span v-for="(part, at) in one.parts" :key="at" class="piece"
              ><span class="mono">{{ part.text }}</span
              ><small>{{ label(part.label) }}</small></span
            ></span
          >
          <span class="points"
            ><span
              v-for="said in one.points"
              :key="said.name"
              :class="said.count > 0 ? 'for' : 'against'"
              ><i aria-hidden="true">{{ said.count > 0 ? '+' : '−' }}</i>
              {{ point(said.name, said.count) }}</span
            ></span
          >
        </li>
      </ol>
    </section>
  </div>
</template>

<style scoped>
.ways {
  margin-top: 16px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.label {
  margin: 0 0 6px;
}
.question {
  margin: 0 0 2px;
  color: var(--ink-soft);
  font-size: 13px;
}
.question q {
  color: var(--ink);
}
ol {
  list-style: none;
  margin: 0 0 12px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 170px minmax(0, 3fr) minmax(0, 2fr);
  gap: 4px 16px;
  align-items: baseline;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
  color: var(--ink-soft);
}
li:last-child {
  border: 0;
}
.won {
  color: var(--ink);
}
.won .name {
  font-weight: 500;
}
.name {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.stamp {
  font: 600 10.5px var(--sans);
  letter-spacing: 0.05em;
  text-transform: uppercase;
  color: var(--moss);
}
.pieces,
.points {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.piece {
  display: inline-flex;
  flex-direction: column;
  line-height: 1.25;
  overflow-wrap: anywhere;
}
.piece small {
  color: var(--ink-soft);
  font-size: 11.5px;
}
.points {
  font-size: 12.5px;
}
.points i {
  font: 600 13px var(--mono);
}
.for i {
  color: var(--moss);
}
.against i {
  color: var(--stamp);
}
@media (max-width: 860px) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
