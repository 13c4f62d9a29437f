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
const form = reactive({
  name: props.person?.name ?? '',
  password: '',
  role: (props.person?.role ?? 'member') as (typeof ROLES)[number],
  libraries: [...(props.person?.libraries ?? [])],
  downloads: props.person?.downloads ?? true,
  shares: props.person?.shares ?? false,
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
    age: form.age,
    unrated: form.unrated,
    password: form.password || null,
    pin: form.pin || null,
  })
}
</script>

<template>
  <form class="form" @submit.prevent="save">
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
    </template>
    <p class="send">
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

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  gap: 14px 22px;
  align-items: start;
  padding: 16px;
  border-top: 1px solid var(--rule);
  background: var(--paper);
}
label,
fieldset {
  display: flex;
  flex-direction: column;
  gap: 4px;
  margin: 0;
  padding: 0;
  border: 0;
  font-size: 13px;
  color: var(--ink-soft);
}
legend {
  padding: 0;
  margin-bottom: 4px;
}
.tick {
  flex-direction: row;
  align-items: center;
  gap: 7px;
  color: var(--ink);
}
input:not([type='checkbox']),
select {
  height: 32px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.tick input {
  accent-color: var(--accent);
}
.send {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
