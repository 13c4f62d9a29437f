<script lang="ts">
import type { components } from '@/api/schema'

export type PersonWish = components['schemas']['PersonIn']
</script>

<script setup lang="ts">
/** What is said of a person; only what was touched is sent. */
import { computed, reactive } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Library, Person } from '@/api/client'

const props = defineProps<{ person?: Person; libraries: readonly Library[]; busy: boolean }>()
const emit = defineEmits<{ save: [wish: PersonWish] }>()
const { t } = useI18n()
const ROLES = ['member', 'guest', 'librarian', 'owner'] as const
const AGES = [0, 3, 6, 8, 10, 12, 14, 16, 18]
/** What else was said by the command line is offered, too. */
const offered = (steps: readonly number[], own?: number | null) =>
  [...new Set([...steps, ...(own ? [own] : [])])].sort((one, other) => one - other)
const STREAMS = offered([1, 2, 3, 5, 10], props.person?.most_streams)
const LINES = offered([1000, 2000, 4000, 8000, 20_000], props.person?.away_kbps)
const form = reactive({
  name: props.person?.name ?? '',
  password: '',
  role: (props.person?.role ?? 'member') as (typeof ROLES)[number],
  libraries: [...(props.person?.libraries ?? [])],
  downloads: props.person?.downloads ?? true,
  shares: props.person?.shares ?? false,
  tidies: props.person?.tidies ?? false,
  most_streams: props.person?.most_streams ?? null,
  away_kbps: props.person?.away_kbps ?? null,
  age: props.person?.age ?? null,
  unrated: (props.person?.unrated ?? 'hide') as 'show' | 'hide',
  pin: '',
})
const isBound = computed(() => ['member', 'guest'].includes(form.role))
const isReady = computed(
  () =>
    form.name.trim() !== '' &&
    (props.person ? !form.password || form.password.length >= 8 : form.password.length >= 8) &&
    (!form.pin || /^\d{4,12}$/.test(form.pin)),
)
function save(): void {
  const names = props.libraries.filter((one) => form.libraries.includes(one.id))
  emit('save', {
    name: form.name.trim(),
    role: form.role,
    libraries: names.map((one) => one.name),
    downloads: form.downloads,
    shares: form.shares,
    tidies: form.tidies && form.age === null,
    most_streams: form.most_streams,
    away_kbps: form.away_kbps,
    age: form.age,
    unrated: form.unrated,
    password: form.password || null,
    pin: form.pin || null,
  })
}
</script>

<template>
  <form class="fields inset" @submit.prevent="save">
    <label
      >{{ t('people.name') }}<input v-model="form.name" name="person" maxlength="60" required
    /></label>
    <label
      >{{ person ? t('people.newPassword') : t('people.password')
      }}<input
        v-model="form.password"
        name="person-password"
        type="password"
        autocomplete="new-password"
        :placeholder="t('people.atLeast')"
    /></label>
    <label
      >{{ t('people.roleIs') }}
      <select v-model="form.role" name="role">
        <option v-for="role in ROLES" :key="role" :value="role">
          {{ t(`people.role.${role}`) }}
        </option>
      </select>
      <span class="faint">{{ t(`people.means.${form.role}`) }}</span>
    </label>
    <template v-if="isBound">
      <fieldset>
        <legend>{{ t('people.libraries') }}</legend>
        <label v-for="library in libraries" :key="library.id" class="tick"
          ><input v-model="form.libraries" type="checkbox" :value="library.id" />
          {{ library.name }}</label
        >
      </fieldset>
      <label
        >{{ t('people.age') }}
        <select v-model="form.age" name="age">
          <option :value="null">{{ t('people.anyAge') }}</option>
          <option v-for="age in AGES" :key="age" :value="age">
            {{ t('people.upTo', { n: age }) }}
          </option>
        </select>
      </label>
      <template v-if="form.age !== null">
        <label
          >{{ t('people.unrated') }}
          <select v-model="form.unrated">
            <option value="hide">{{ t('people.hide') }}</option>
            <option value="show">{{ t('people.show') }}</option>
          </select>
        </label>
        <label
          >{{ t('people.pin')
          }}<input
            v-model="form.pin"
            inputmode="numeric"
            maxlength="12"
            :placeholder="person?.has_pin ? t('people.pinSet') : t('people.pinHint')"
        /></label>
      </template>
      <label class="tick"
        ><input v-model="form.downloads" type="checkbox" /> {{ t('people.downloads') }}</label
      >
      <label class="tick"
        ><input v-model="form.shares" type="checkbox" name="shares" />
        {{ t('people.shares') }}</label
      >
      <label v-if="form.age === null" class="tick"
        ><input v-model="form.tidies" type="checkbox" name="tidies" />
        {{ t('people.tidies') }}</label
      >
    </template>
    <label
      >{{ t('people.streams') }}
      <select v-model="form.most_streams" name="streams">
        <option :value="null">{{ t('people.anyNumber') }}</option>
        <option v-for="n in STREAMS" :key="n" :value="n">{{ n }}</option>
      </select>
    </label>
    <label
      >{{ t('people.away') }}
      <select v-model="form.away_kbps" name="away">
        <option :value="null">{{ t('people.anyAmount') }}</option>
        <option v-for="n in LINES" :key="n" :value="n">
          {{ t('people.megabits', { n: n / 1000 }) }}
        </option>
      </select>
    </label>
    <p class="wide">
      <el-button
        native-type="submit"
        type="primary"
        :disabled="!isReady || busy"
        data-test="save-person"
        >{{ t('people.save') }}</el-button
      >
    </p>
  </form>
</template>
