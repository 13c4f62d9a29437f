<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Artwork } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ entryId: number; kind: string; artworks: readonly Artwork[] }>()
const { t, te } = useI18n()
const client = useQueryClient()
const error = ref<Error>()
const own = computed(() => ({ album: 'cover', artist: 'portrait', episode: 'thumb' })[props.kind] ?? 'poster')
const ROLES = ['poster', 'cover', 'portrait', 'thumb', 'backdrop']
const rank = (role: string) => (ROLES.includes(role) ? ROLES.indexOf(role) : ROLES.length)
const shown = computed(() => props.artworks.filter((picture) => picture.role !== 'photo').sort((one, other) => rank(one.role) - rank(other.role)))
const first = (picture: Artwork) => picture.chosen || (!shown.value.some((p) => p.role === picture.role && p.chosen) && shown.value.find((p) => p.role === picture.role)?.id === picture.id)
const origin = (text: string) => (text.startsWith('source:') ? text.slice(7) : te(`origin.${text}`) ? t(`origin.${text}`) : text)
async function attempt(work: () => Promise<unknown>): Promise<void> {
  error.value = undefined
  await work().catch((reason: Error) => (error.value = reason))
  await client.invalidateQueries()
}
const choose = (id: number) => attempt(() => ask(api.POST('/api/artworks/{artwork_id}/choose', { params: { path: { artwork_id: id } } })))
async function upload(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  const form = new FormData()
  form.append('role', own.value)
  form.append('picture', file)
  await attempt(() => ask(api.POST('/api/entries/{entry_id}/artworks', { params: { path: { entry_id: props.entryId } }, body: form as never, bodySerializer: (body: unknown) => body as FormData })))
}
</script>

<template>
  <section class="pictures">
    <h2>{{ t('page.pictures') }} <label class="link">{{ t('page.upload') }}<input type="file" accept="image/jpeg,image/png,image/webp" @change="upload" /></label></h2>
    <ProblemNote v-if="error" :error="error" />
    <div class="row">
      <button v-for="picture in shown" :key="picture.id" class="plain picture" :class="{ first: first(picture) }" :aria-pressed="first(picture)" :title="t('page.choose')" @click="choose(picture.id)">
        <img :src="`/api/pictures/${picture.picture.digest}/480`" :alt="`${picture.role}, ${origin(picture.origin)}`" :style="{ aspectRatio: `${picture.picture.width} / ${picture.picture.height}`, backgroundImage: `url(${picture.picture.blur})` }" loading="lazy" />
        <span class="said"><span>{{ te(`picture.${picture.role}`) ? t(`picture.${picture.role}`) : picture.role }}, {{ origin(picture.origin) }}</span><span class="mono faint">{{ picture.picture.width }} × {{ picture.picture.height }}</span></span>
        <span v-if="picture.chosen" class="stamp">{{ t('page.chosen') }}</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
.pictures { margin-bottom: 22px; }
h2 { display: flex; align-items: baseline; gap: 14px; margin-bottom: 8px; }
h2 .link { font: 500 13px var(--sans); cursor: pointer; }
input { position: absolute; width: 1px; height: 1px; opacity: 0; }
.link:focus-within { outline: 2px solid var(--accent); outline-offset: 2px; }
.row { display: flex; flex-wrap: wrap; gap: 16px; align-items: flex-end; }
.picture { position: relative; display: flex; flex-direction: column; gap: 4px; padding: 5px; border-radius: 4px; text-align: start; }
.picture.first { box-shadow: inset 0 0 0 2px var(--accent); }
img { display: block; height: 150px; max-width: 300px; object-fit: contain; background: var(--desk) center / cover; border-radius: 2px; }
.said { display: flex; flex-direction: column; font-size: 12px; }
.stamp { position: absolute; top: 12px; left: 0; font: 600 11px var(--sans); letter-spacing: 0.06em; text-transform: uppercase; padding: 1px 7px; color: var(--stamp); background: var(--card); border: 1.5px solid currentColor; border-radius: 3px; transform: rotate(-4deg); }
</style>
