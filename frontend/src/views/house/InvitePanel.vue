<script setup lang="ts">
/** Invitations into the household: a link for one use, shown once, and what became of those that were sent. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Invitation, type Library } from '@/api/client'
import { moment } from '@/composables/words'
import LinkMade from '@/parts/LinkMade.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ libraries: readonly Library[] }>()
const ROLES = ['member', 'guest', 'librarian'] as const
const AGES = [0, 3, 6, 8, 10, 12, 14, 16, 18]
const DAYS = [1, 7, 30]
const { t, locale } = useI18n()
const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['people', 'invitations'],
  queryFn: () => ask(api.GET('/api/invitations')),
})
const form = reactive({
  role: 'member' as (typeof ROLES)[number],
  libraries: props.libraries.map((one) => one.name),
  age: null as number | null,
  days: 7,
})
const open = ref(false)
const making = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/invitations', {
        body: {
          ...form,
          libraries: form.role === 'librarian' ? [] : form.libraries,
          unrated: 'hide',
          downloads: true,
        },
      }),
    ),
  onSuccess: () => client.invalidateQueries({ queryKey: ['people'] }),
})
const ending = useMutation({
  mutationFn: (id: number) =>
    ask(
      api.DELETE('/api/invitations/{invitation_id}', { params: { path: { invitation_id: id } } }),
    ),
  onSuccess: () => client.invalidateQueries({ queryKey: ['people'] }),
})
function toggle(): void {
  making.reset()
  open.value = !open.value
}
const isOver = (one: Invitation) => new Date(one.ends_at).getTime() < Date.now()
const became = (one: Invitation) =>
  one.used_by
    ? t('invite.usedBy', { name: one.used_by })
    : one.used_at
      ? t('invite.used')
      : t(isOver(one) ? 'invite.over' : 'invite.until', { day: moment(one.ends_at, locale.value) })
</script>

<template>
  <section data-test="invitations">
    <div class="head">
      <h2>{{ t('invite.title') }}</h2>
      <el-button data-test="invite" @click="toggle">{{
        open ? t('house.cancel') : t('invite.make')
      }}</el-button>
    </div>
    <ProblemNote v-if="making.error.value" :error="making.error.value" />
    <div class="card">
      <LinkMade
        v-if="making.data.value"
        class="made"
        :link="making.data.value.link"
        :picture="making.data.value.picture"
        :lead="t('invite.send')"
        :hint="t('invite.once')"
      />
      <form v-else-if="open" class="fields inset" @submit.prevent="making.mutate()">
        <label
          >{{ t('people.roleIs') }}
          <select v-model="form.role" name="invite-role">
            <option v-for="role in ROLES" :key="role" :value="role">
              {{ t(`people.role.${role}`) }}
            </option></select
          ><span class="faint">{{ t(`people.means.${form.role}`) }}</span></label
        >
        <fieldset v-if="form.role !== 'librarian'">
          <legend>{{ t('people.libraries') }}</legend>
          <label v-for="library in libraries" :key="library.id" class="tick"
            ><input v-model="form.libraries" type="checkbox" :value="library.name" />
            {{ library.name }}</label
          >
        </fieldset>
        <label
          >{{ t('people.age') }}
          <select v-model="form.age">
            <option :value="null">{{ t('people.anyAge') }}</option>
            <option v-for="age in AGES" :key="age" :value="age">
              {{ t('people.upTo', { n: age }) }}
            </option>
          </select></label
        >
        <label
          >{{ t('invite.lasts') }}
          <select v-model="form.days">
            <option v-for="days in DAYS" :key="days" :value="days">
              {{ t('invite.days', days) }}
            </option>
          </select></label
        >
        <p class="wide">
          <el-button
            native-type="submit"
            type="primary"
            :disabled="making.isPending.value"
            data-test="make-invitation"
            >{{ t('invite.make') }}</el-button
          >
        </p>
      </form>
      <p v-for="one in data?.invitations ?? []" :key="one.id" class="sent">
        <span class="what"
          ><b>{{ t(`people.role.${one.role}`) }}</b>
          <span class="soft">{{ one.libraries.join(', ') }}</span></span
        ><span :class="{ used: one.used_at }">{{ became(one) }}</span
        ><button v-if="!one.used_at" class="link" @click="ending.mutate(one.id)">
          {{ t('invite.takeBack') }}
        </button>
      </p>
      <p v-if="data && !data.invitations.length && !open" class="sent soft">
        {{ t('invite.none') }}
      </p>
    </div>
  </section>
</template>

<style scoped>
.made {
  padding: 16px;
}
.sent {
  display: grid;
  grid-template-columns: 1fr auto minmax(64px, auto);
  gap: 4px 18px;
  align-items: baseline;
  margin: 0;
  padding: 9px 16px;
  border-top: 1px solid var(--rule);
}
.sent:first-child {
  border-top: 0;
}
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
}
.used {
  color: var(--moss);
}
@media (max-width: 760px) {
  .sent {
    grid-template-columns: 1fr auto;
  }
}
</style>
