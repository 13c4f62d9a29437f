<script setup lang="ts">
/** What one chooses for oneself: picture, language, how it looks, and whether the owner sees what one saw. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { DEFAULT_LOOKS, useLooks } from '@/composables/useLooks'
import { useStatus } from '@/composables/useStatus'
import PersonPicture from '@/parts/PersonPicture.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

const THEMES = ['system', 'light', 'dark'] as const
const CARDS = ['small', 'medium', 'large'] as const
const PARTS = ['year', 'marks', 'state'] as const
const LANGUAGES = { en: 'English', de: 'Deutsch' } as const

const { t } = useI18n()
const client = useQueryClient()
const { data: status } = useStatus()
const { looks } = useLooks()
const stamp = ref(0)
const hasPicture = ref(true)
const hides = computed(() => looks.value.hides)
const again = () => client.invalidateQueries({ queryKey: ['status'] })
const choosing = useMutation({
  mutationFn: (
    change: Partial<typeof DEFAULT_LOOKS> & { language?: 'en' | 'de'; tells_seen?: boolean },
  ) =>
    ask(
      api.PUT('/api/me/looks', {
        body: {
          ...looks.value,
          tells_seen: status.value?.tells_seen ?? false,
          language: null,
          ...change,
        },
      }),
    ),
  onSuccess: again,
})
const picturing = useMutation({
  mutationFn: async (file: File | undefined) => {
    if (!file) return ask(api.DELETE('/api/me/picture'))
    const form = new FormData()
    form.append('picture', file)
    return ask(
      api.PUT('/api/me/picture', {
        body: form as never,
        bodySerializer: (body: unknown) => body as FormData,
      }),
    )
  },
  onSuccess: () => {
    hasPicture.value = true
    stamp.value += 1
  },
})
const error = computed(() => choosing.error.value ?? picturing.error.value)
function pick(event: Event): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (file) picturing.mutate(file)
  input.value = ''
}
function turn(part: (typeof PARTS)[number]): void {
  const rest = hides.value.filter((one) => one !== part)
  choosing.mutate({ hides: rest.length < hides.value.length ? rest : [...rest, part] })
}
</script>

<template>
  <section data-test="looks">
    <div class="head">
      <h2>{{ t('looks.title') }}</h2>
    </div>
    <ProblemNote v-if="error" :error="error" />
    <div class="card looks">
      <div v-if="status?.person_id" class="own">
        <PersonPicture
          :key="stamp"
          :person-id="status.person_id"
          :name="status.person ?? ''"
          :stamp="stamp"
          large
          @missing="hasPicture = false"
        />
        <span class="acts">
          <label class="link"
            >{{ t('looks.picture')
            }}<input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              class="only-said"
              @change="pick"
          /></label>
          <button v-if="hasPicture" class="link" @click="picturing.mutate(undefined)">
            {{ t('looks.none') }}
          </button>
        </span>
      </div>
      <div class="fields">
        <label
          >{{ t('looks.language') }}
          <select
            name="language"
            :value="status?.language"
            @change="
              choosing.mutate({
                language: ($event.target as HTMLSelectElement).value as 'en' | 'de',
              })
            "
          >
            <option v-for="(name, code) in LANGUAGES" :key="code" :value="code" :lang="code">
              {{ name }}
            </option>
          </select>
        </label>
        <fieldset>
          <legend>{{ t('looks.theme') }}</legend>
          <label v-for="theme in THEMES" :key="theme" class="tick"
            ><input
              type="radio"
              name="theme"
              :value="theme"
              :checked="looks.theme === theme"
              @change="choosing.mutate({ theme })"
            />
            {{ t(`looks.${theme}`) }}</label
          >
        </fieldset>
        <fieldset>
          <legend>{{ t('looks.cards') }}</legend>
          <label v-for="cards in CARDS" :key="cards" class="tick"
            ><input
              type="radio"
              name="cards"
              :value="cards"
              :checked="looks.cards === cards"
              @change="choosing.mutate({ cards })"
            />
            {{ t(`looks.${cards}`) }}</label
          >
        </fieldset>
        <fieldset>
          <legend>{{ t('looks.shows') }}</legend>
          <label v-for="part in PARTS" :key="part" class="tick"
            ><input
              type="checkbox"
              :name="`shows-${part}`"
              :checked="!hides.includes(part)"
              @change="turn(part)"
            />
            {{ t(`looks.part.${part}`) }}</label
          >
        </fieldset>
        <label v-if="status?.role !== 'owner'" class="tick wide"
          ><input
            type="checkbox"
            name="tells-seen"
            :checked="status?.tells_seen"
            @change="choosing.mutate({ tells_seen: !status?.tells_seen })"
          />
          {{ t('looks.tells') }}</label
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
.looks {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 22px;
  padding: 16px;
}
.own {
  display: grid;
  gap: 10px;
  justify-items: center;
  align-content: start;
}
.acts {
  display: grid;
  gap: 4px;
  justify-items: center;
  font-size: 13px;
}
.acts label:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: 2px;
}
@media (max-width: 700px) {
  .looks {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
