<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Artwork, type Frame, type Offer } from '@/api/client'
import { clock } from '@/composables/words'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{
  entryId: number
  kind: string
  artworks: readonly Artwork[]
  offers: readonly Offer[]
  frames: readonly Frame[]
}>()
const { t, te } = useI18n()
const client = useQueryClient()
const error = ref<Error>()
const own = computed(
  () => ({ album: 'cover', artist: 'portrait', episode: 'thumb' })[props.kind] ?? 'poster',
)
const offered = computed(() => props.offers.reduce((sum, offer) => sum + offer.count, 0))
const fetching = ref(false)
const framing = ref(false)
const film = ref<Frame>()
const second = ref(0)
const looked = refDebounced(second, 250)
const roles = computed(
  () =>
    ({ movie: ['backdrop', 'poster'], series: ['backdrop'], episode: ['thumb'], clip: ['thumb'] })[
      props.kind
    ] ?? [],
)
function frame(): void {
  framing.value = !framing.value
  film.value = props.frames[0]
  second.value = Math.round((film.value?.seconds ?? 0) * 0.3)
}
const takeFrame = (role: string) =>
  attempt(async () => {
    await ask(
      api.POST('/api/entries/{entry_id}/frame', {
        params: { path: { entry_id: props.entryId } },
        body: {
          file_id: film.value!.file_id,
          seconds: second.value,
          role: role as 'poster' | 'backdrop' | 'thumb',
        },
      }),
    )
    framing.value = false
  })
async function fetchOffers(): Promise<void> {
  fetching.value = true
  await attempt(() =>
    ask(
      api.POST('/api/entries/{entry_id}/offers', { params: { path: { entry_id: props.entryId } } }),
    ),
  )
  fetching.value = false
}
const leave = (id: number) =>
  attempt(() =>
    ask(api.DELETE('/api/artworks/{artwork_id}/choose', { params: { path: { artwork_id: id } } })),
  )
const ROLES = ['poster', 'cover', 'portrait', 'thumb', 'backdrop']
const rank = (role: string) => (ROLES.includes(role) ? ROLES.indexOf(role) : ROLES.length)
const shown = computed(() =>
  props.artworks
    .filter((picture) => picture.role !== 'photo')
    .sort((one, other) => rank(one.role) - rank(other.role)),
)
const first = (picture: Artwork) =>
  picture.chosen ||
  (!shown.value.some((p) => p.role === picture.role && p.chosen) &&
    shown.value.find((p) => p.role === picture.role)?.id === picture.id)
const origin = (text: string) =>
  text.startsWith('source:') ? text.slice(7) : te(`origin.${text}`) ? t(`origin.${text}`) : text
async function attempt(work: () => Promise<unknown>): Promise<void> {
  error.value = undefined
  await work().catch((reason: Error) => (error.value = reason))
  await client.invalidateQueries()
}
const choose = (id: number) =>
  attempt(() =>
    ask(api.POST('/api/artworks/{artwork_id}/choose', { params: { path: { artwork_id: id } } })),
  )
async function upload(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const form = new FormData()
  form.append('role', own.value)
  form.append('picture', file)
  await attempt(() =>
    ask(
      api.POST('/api/entries/{entry_id}/artworks', {
        params: { path: { entry_id: props.entryId } },
        body: form as never,
        bodySerializer: (body: unknown) => body as FormData,
      }),
    ),
  )
}
</script>

<template>
  <section class="pictures">
    <h2>
      {{ t('page.pictures') }}
      <label class="link"
        >{{ t('page.upload')
        }}<input type="file" accept="image/jpeg,image/png,image/webp" @change="upload" /></label
      ><button
        v-if="frames.length && roles.length"
        class="link"
        :aria-expanded="framing"
        data-test="frame"
        @click="frame"
      >
        {{ t('page.frame') }}</button
      ><button
        v-if="offered"
        class="link"
        :disabled="fetching"
        data-test="offers"
        @click="fetchOffers"
      >
        {{
          t('page.offers', {
            n: offered,
            source: [...new Set(offers.map((o) => o.source))].join(', '),
          })
        }}
      </button>
    </h2>
    <ProblemNote v-if="error" :error="error" />
    <div v-if="framing && film" class="card framing">
      <img :src="`/api/files/${film.file_id}/frame?at=${looked}`" :alt="clock(looked)" />
      <div>
        <select v-if="frames.length > 1" v-model="film">
          <option v-for="(one, place) in frames" :key="one.file_id" :value="one">
            {{ place + 1 }}
          </option>
        </select>
        <label
          >{{ t('page.moment') }} <span class="mono">{{ clock(second) }}</span><input
            v-model.number="second"
            type="range"
            min="0"
            :max="Math.floor(film.seconds)"
            step="1"
        /></label>
        <p class="acts">
          <el-button
            v-for="role in roles"
            :key="role"
            :data-test="`frame-${role}`"
            @click="takeFrame(role)"
            >{{ t('page.frameAs', { role: t(`picture.${role}`) }) }}</el-button
          >
        </p>
      </div>
    </div>
    <div class="row">
      <button
        v-for="picture in shown"
        :key="picture.id"
        class="plain picture"
        :class="{ first: first(picture) }"
        :aria-pressed="first(picture)"
        :title="t('page.choose')"
        @click="choose(picture.id)"
      >
        <img
          :src="`/api/pictures/${picture.picture.digest}/480`"
          :alt="`${picture.role}, ${origin(picture.origin)}`"
          :style="{
            aspectRatio: `${picture.picture.width} / ${picture.picture.height}`,
            backgroundImage: `url(${picture.picture.blur})`,
          }"
          loading="lazy"
        />
        <span class="said"
          ><span
            >{{ te(`picture.${picture.role}`) ? t(`picture.${picture.role}`) : picture.role }},
            {{ origin(picture.origin) }}</span
          ><span class="mono faint"
            >{{ picture.picture.width }} × {{ picture.picture.height }}</span
          ></span
        >
        <span v-if="picture.chosen" class="stamp">{{ t('page.chosen') }}</span>
      </button>
      <button
        v-if="shown.some((p) => p.chosen)"
        class="link"
        @click="shown.filter((p) => p.chosen).forEach((p) => leave(p.id))"
      >
        {{ t('page.leaveChoice') }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.pictures {
  margin-bottom: 22px;
}
h2 {
  display: flex;
  align-items: baseline;
  gap: 14px;
  margin-bottom: 8px;
}
h2 .link {
  font: 500 13px var(--sans);
  cursor: pointer;
}
input[type='file'] {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.framing {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  padding: 12px;
  margin-bottom: 12px;
  max-width: 860px;
}
.framing img {
  width: 400px;
  max-width: 100%;
  height: auto;
  aspect-ratio: 16 / 9;
}
.framing > div {
  flex: 1;
  min-width: 220px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  justify-content: center;
}
.framing input {
  width: 100%;
  accent-color: var(--accent);
}
.acts {
  display: flex;
  gap: 8px;
  margin: 0;
}
.link:focus-within {
  outline: 2px solid var(--accent);
  outline-offset: 2px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: flex-end;
}
.picture {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding: 5px;
  border-radius: 4px;
  text-align: start;
}
.picture.first {
  box-shadow: inset 0 0 0 2px var(--accent);
}
img {
  display: block;
  height: 150px;
  max-width: 300px;
  object-fit: contain;
  background: var(--desk) center / cover;
  border-radius: 2px;
}
.said {
  display: flex;
  flex-direction: column;
  font-size: 12px;
}
.stamp {
  position: absolute;
  top: 12px;
  left: 0;
  font: 600 11px var(--sans);
  letter-spacing: 0.06em;
  text-transform: uppercase;
  padding: 1px 7px;
  color: var(--stamp);
  background: var(--card);
  border: 1.5px solid currentColor;
  border-radius: 3px;
  transform: rotate(-4deg);
}
</style>
