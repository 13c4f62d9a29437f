<script setup lang="ts">
/** The people of the household: who they are, what is given to them, and for which age. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessageBox } from 'element-plus'
import 'element-plus/es/components/message-box/style/css'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Library, type Person } from '@/api/client'
import { moment } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'
import PersonPicture from '@/parts/PersonPicture.vue'
import PersonForm, { type PersonWish } from './PersonForm.vue'
import WatchedRow from './WatchedRow.vue'

defineProps<{ libraries: readonly Library[] }>()
const { t, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['people'], queryFn: () => ask(api.GET('/api/people')) })
/** Who is being changed; 0 is somebody new. */
const open = ref<number>()
/** Of whom one looks at what they saw. */
const watched = ref<number>()
const saving = useMutation({
  mutationFn: ({ id, wish }: { id: number; wish: PersonWish }) =>
    id
      ? ask(api.PUT('/api/people/{person_id}', { params: { path: { person_id: id } }, body: wish }))
      : ask(api.POST('/api/people', { body: wish })),
  onSuccess: async () => {
    open.value = undefined
    await client.invalidateQueries({ queryKey: ['people'] })
  },
})
const removing = useMutation({
  mutationFn: (id: number) =>
    ask(api.DELETE('/api/people/{person_id}', { params: { path: { person_id: id } } })),
  onSuccess: () => client.invalidateQueries({ queryKey: ['people'] }),
})
async function remove(person: Person): Promise<void> {
  try {
    await ElMessageBox.confirm(t('people.removeSure', { name: person.name }), t('people.remove'), {
      confirmButtonText: t('people.remove'),
      cancelButtonText: t('house.cancel'),
    })
  } catch {
    return
  }
  removing.mutate(person.id)
}
function toggle(id: number): void {
  saving.reset()
  removing.reset()
  open.value = open.value === id ? undefined : id
}
function about(person: Person, libraries: readonly Library[]): string {
  if (['owner', 'librarian'].includes(person.role)) return t('people.all')
  const given = libraries.filter((one) => person.libraries.includes(one.id)).map((one) => one.name)
  return given.length ? given.join(', ') : t('people.nothing')
}
</script>

<template>
  <section data-test="people">
    <div class="head">
      <h2>{{ t('people.title') }}</h2>
      <el-button data-test="add-person" @click="toggle(0)">{{
        open === 0 ? t('house.cancel') : t('people.add')
      }}</el-button>
    </div>
    <ProblemNote v-if="saving.error.value" :error="saving.error.value" />
    <ProblemNote v-if="removing.error.value" :error="removing.error.value" />
    <div class="card">
      <PersonForm
        v-if="open === 0"
        :libraries="libraries"
        :busy="saving.isPending.value"
        @save="saving.mutate({ id: 0, wish: $event })"
      />
      <template v-for="person in data?.people ?? []" :key="person.id">
        <div class="person">
          <span class="name"
            ><PersonPicture
              v-if="person.has_picture"
              :person-id="person.id"
              :name="person.name"
            /><b>{{ person.name }}</b>
            <span class="soft">{{ t(`people.role.${person.role}`) }}</span></span
          >
          <span class="given">{{ about(person, libraries) }}</span>
          <span class="soft">{{
            person.age === null ? '' : t('people.upTo', { n: person.age })
          }}</span>
          <span class="faint seen">{{
            person.seen_at ? moment(person.seen_at, locale) : t('people.never')
          }}</span>
          <span class="acts">
            <button
              v-if="person.tells_seen && person.role !== 'owner'"
              class="link"
              :aria-expanded="watched === person.id"
              @click="watched = watched === person.id ? undefined : person.id"
            >
              {{ t('marks.seen') }}
            </button>
            <button class="link" @click="toggle(person.id)">{{ t('people.change') }}</button>
            <button class="link" @click="remove(person)">
              {{ t('people.remove') }}
            </button>
          </span>
        </div>
        <WatchedRow v-if="watched === person.id" :person-id="person.id" :name="person.name" />
        <PersonForm
          v-if="open === person.id"
          :person="person"
          :libraries="libraries"
          :busy="saving.isPending.value"
          @save="saving.mutate({ id: person.id, wish: $event })"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
.person {
  display: grid;
  grid-template-columns: minmax(150px, 1.1fr) 2fr 90px 130px auto;
  gap: 4px 16px;
  align-items: baseline;
  padding: 9px 16px;
  border-top: 1px solid var(--rule);
}
.person:first-child {
  border-top: 0;
}
.name {
  display: flex;
  gap: 8px;
  align-items: baseline;
  flex-wrap: wrap;
  overflow-wrap: anywhere;
}
.seen {
  font-size: 13px;
}
.acts {
  display: flex;
  gap: 14px;
}
@media (max-width: 760px) {
  .person {
    grid-template-columns: 1fr auto;
  }
}
</style>
