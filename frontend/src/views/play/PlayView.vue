<script setup lang="ts">
/** A film, an episode, a track over the whole window. */
import { useFullscreen, useLocalStorage } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { byLink, playPage } from '@/api/client'
import { useByLine } from '@/composables/useLine'
import { useMediaKeys } from '@/composables/useMediaKeys'
import { useOutput } from '@/composables/useOutput'
import { partAt, usePlayback } from '@/composables/usePlayback'
import { usePlayKeys } from '@/composables/usePlayKeys'
import { BACK_SECONDS, usePosition } from '@/composables/usePosition'
import { useQuiet } from '@/composables/useQuiet'
import { useTexts } from '@/composables/useTexts'
import { useTogether } from '@/composables/useTogether'
import CoverImage from '@/parts/CoverImage.vue'
import PlayControls from './PlayControls.vue'
import PlayFacts from './PlayFacts.vue'
import PlayNext from './PlayNext.vue'
import PlayNotice from './PlayNotice.vue'
import PlaySkip from './PlaySkip.vue'
import PlayTogether from './PlayTogether.vue'

const BY_LINE = -1
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const page = useTemplateRef<HTMLElement>('page')
const media = useTemplateRef<HTMLVideoElement>('media')
const { told, problem, isMuted, isLoading, startAt, begin, attach, again, leave, broke } =
  usePlayback(() => media.value)
const paused = ref(true)
const waits = ref(false)
const at = ref(0)
const ready = ref(0)
const isOver = ref(false)
const facts = ref(false)
const output = useOutput(media, isMuted)
const { volume, speed, canCast, loud, unmute } = output
/** Lines that are asked for; what it is for as it is, or what the line lets through. */
const quality = useLocalStorage('indice.quality', BY_LINE)
/** Numbers of the text and the sound that were chosen here; none yet is for the film to say. */
const text = ref<number | null>(null)
const sound = ref<number | null>(null)
const shownText = computed(() => text.value ?? -1)
const texts = useTexts(
  media,
  computed(() => (told.value?.texts[shownText.value]?.url ? shownText.value : null)),
)
const audio = computed(() => !!told.value && told.value.width === null)
const part = computed(() => told.value?.parts.find((p) => p.file_id === told.value?.file_id))
const base = computed(() => part.value?.start_seconds ?? 0)
const now = computed(() => base.value + at.value)
const position = usePosition(() =>
  told.value?.keeps_position && !isLoading.value && media.value && media.value.readyState > 0
    ? {
        entryId: told.value.entry_id,
        seconds: base.value + media.value.currentTime,
        duration: told.value.duration_seconds,
        audio: audio.value,
      }
    : undefined,
)
const byLine = useByLine({
  isOn: () => quality.value === BY_LINE,
  isPaused: () => paused.value,
  told: () => told.value,
  anew: () => anew(),
})
const canFloat = computed(() => !audio.value && document.pictureInPictureEnabled)
const full = useFullscreen(page)

function number(name: string): number | null {
  const value = route.query[name]
  return typeof value === 'string' && /^\d+(\.\d+)?$/.test(value) ? Number(value) : null
}

/** Begin what the address names. */
function open(): void {
  isOver.value = false
  sound.value = number('sound')
  text.value = route.query.text === 'off' ? -1 : number('text')
  const wanted = route.query.quality
  if (wanted !== undefined) quality.value = number('quality') ?? (wanted === 'line' ? BY_LINE : 0)
  byLine.bound.value = null
  void play(number('from') ?? undefined, number('file') ?? undefined)
}

function play(from?: number, fileId?: number): Promise<void> {
  position.stop()
  at.value = ready.value = 0
  byLine.settle()
  return begin({
    entryId: Number(route.params.id),
    maxHeight: quality.value > 0 ? quality.value : null,
    maxKbps: quality.value === BY_LINE ? byLine.bound.value : null,
    bear: byLine.bound.value === null ? byLine.first : undefined,
    sound: sound.value,
    text: shownText.value >= 0 ? shownText.value : null,
    fileId: fileId ?? null,
    listId: number('list'),
    from,
  })
}

watch(() => route.params.id, open, { immediate: true })
watch(told, async (what) => {
  if (!what) return
  document.title = `${what.title} · Indice`
  if (text.value === null)
    text.value = what.texts.find((o) => o.flags.includes('forced'))?.index ?? -1
  await nextTick()
  const from = startAt.value ?? Math.max(what.position_seconds - BACK_SECONDS, 0)
  texts.show()
  if (media.value) {
    output.begin()
    await attach(Math.max(from - base.value, 0))
    output.goOn()
  }
})
function anew(fileId?: number): void {
  void play(now.value, fileId)
}
/** Who watches along; then what is done here is said to all, and comes back from there. */
const company = computed(() =>
  typeof route.query.with === 'string' && !byLink() ? route.query.with : undefined,
)
const {
  party,
  isOver: isPartyOver,
  say,
} = useTogether(() => company.value, {
  now: () =>
    told.value && !isLoading.value && media.value
      ? base.value + media.value.currentTime
      : undefined,
  media: () => media.value,
  seek: jump,
  go: (id) => void router.replace({ path: playPage(id), query: { with: company.value } }),
  entryId: () => Number(route.params.id),
})
function seek(seconds: number): void {
  if (party.value) say(party.value.is_paused, seconds)
  else jump(seconds)
}
function jump(seconds: number): void {
  const what = told.value
  if (!what || !media.value) return
  const target = Math.min(Math.max(seconds, 0), Math.max(what.duration_seconds - 0.5, 0))
  const there = partAt(what, target)
  if (there && there.file_id !== what.file_id) {
    void play(target, there.file_id)
  } else {
    at.value = target - base.value
    media.value.currentTime = at.value
  }
  isOver.value = false
}
function toggle(): void {
  if (party.value) say(!party.value.is_paused, now.value)
  else if (media.value?.paused) void media.value.play()
  else media.value?.pause()
}
function back(): void {
  const id = told.value?.parent_id && audio.value ? told.value.parent_id : told.value?.entry_id
  const before = String(window.history.state?.back ?? '')
  if (before && !/^(\/s\/[^/]+)?\/play\//.test(before)) router.back()
  else if (byLink()) void router.push(`/s/${String(route.params.share)}`)
  else void router.push(`/catalog/entry/${id ?? String(route.params.id)}`)
}
function next(): void {
  const id = told.value?.next_entry_id
  if (!id) return
  position.stop()
  if (party.value) return say(false, 0, id)
  const list = route.query.list
  void router.replace({ path: playPage(id), query: list ? { list } : {} })
}
function ended(): void {
  const what = told.value
  const following = what?.parts[what.parts.findIndex((p) => p.file_id === what.file_id) + 1]
  position.stop()
  if (following && part.value) {
    void play(following.start_seconds, following.file_id)
  } else if (audio.value) next()
  else isOver.value = true
}
function choose(name: 'sound' | 'text' | 'height', value: number): void {
  if (name === 'height') byLine.bound.value = null
  if (name === 'sound') sound.value = value
  if (name === 'height') quality.value = value
  if (name === 'text') {
    const drawn = (index: number) => told.value?.texts[index]?.flags.includes('picture')
    const wasDrawn = drawn(shownText.value)
    text.value = value
    if (!wasDrawn && !drawn(value)) return
  }
  anew()
}
function pace(rate: number): void {
  if (!party.value) output.pace(rate)
}
const { isQuiet, stir } = useQuiet(() => !paused.value && !audio.value)
function tap(event: MouseEvent): void {
  if ((event as PointerEvent).pointerType !== 'touch') toggle()
}
usePlayKeys({
  told,
  now,
  text: shownText,
  output: { ...output, pace },
  texts,
  toggle,
  halt: () => media.value?.pause(),
  seek,
  next,
  choose,
  full: () => void full.toggle(),
  facts: () => (facts.value = !facts.value),
  leave: () => (full.isFullscreen.value ? void full.exit() : back()),
})
useMediaKeys(told, { toggle, seek: (s) => seek(now.value + s), next })
const events = {
  play: () => (paused.value = false),
  playing: () => {
    waits.value = false
    byLine.go()
  },
  seeking: byLine.settle,
  waiting: () => {
    waits.value = true
    byLine.wait()
  },
  pause: () => {
    paused.value = true
    stir()
    position.keep()
  },
  timeupdate: () => {
    at.value = media.value?.currentTime ?? 0
    waits.value = false
    byLine.go()
    position.move()
  },
  progress: () => {
    const ranges = media.value?.buffered
    ready.value = base.value + (ranges?.length ? ranges.end(ranges.length - 1) : 0)
  },
  ended,
  error: () => told.value?.mode === 'direct' && broke(media.value?.error?.message ?? ''),
}
onBeforeUnmount(() => {
  position.stop()
  leave()
})
</script>

<template>
  <main
    ref="page"
    class="play"
    :class="{ quiet: isQuiet }"
    :style="{ '--text': `${texts.size.value}%` }"
  >
    <video
      v-if="told && !audio"
      :key="told.key"
      ref="media"
      class="screen"
      playsinline
      v-on="events"
      @click="tap"
    >
      <track
        v-for="one in told.texts.filter((o) => o.url)"
        :id="`text-${one.index}`"
        :key="one.index"
        kind="subtitles"
        :src="one.url ?? ''"
        :srclang="one.language ?? undefined"
        :label="one.label"
        @load="texts.shift"
      />
    </video>
    <div v-else-if="told" class="sleeve">
      <CoverImage
        :picture="told.picture"
        :title="told.title"
        kind="album"
        :size="480"
        class="cover"
      />
      <h1>{{ told.title }}</h1>
      <p>{{ told.subtitle }}</p>
      <audio :key="told.key" ref="media" v-on="events"></audio>
    </div>
    <p v-if="(waits || isLoading) && !problem" class="waits" role="status">
      {{ t('player.waits') }}
    </p>
    <PlayNotice
      v-if="problem"
      :key="problem.message"
      class="middle"
      :problem="problem"
      @again="again"
      @original="((quality = 0), anew())"
    />
    <button class="back" data-test="back" @click="back">
      ←
      <span>{{
        told?.subtitle && !audio ? told.subtitle : (told?.title ?? t('player.back'))
      }}</span>
    </button>
    <button v-if="isMuted" class="loud" data-test="unmute" @click="unmute">
      {{ t('player.unmute') }}
    </button>
    <p v-if="texts.offset.value" class="offset mono">
      {{ t('player.offset', { n: texts.offset.value }) }}
    </p>
    <PlayFacts v-if="facts && told" class="facts" :told="told" :media="media" />
    <PlayTogether
      v-if="company"
      class="company"
      :party="party"
      :is-over="isPartyOver"
      @leave="router.replace({ path: route.path, query: {} })"
    />
    <PlaySkip
      v-if="told && !isOver"
      class="nextcard"
      :told="told"
      :now="now"
      @seek="seek"
      @next="next"
    />
    <PlayNext
      v-if="isOver && told?.next_entry_id"
      class="nextcard"
      :entry-id="told.next_entry_id"
      @go="next"
      @stay="isOver = false"
    />
    <PlayControls
      v-if="told"
      class="foot"
      :told="told"
      :now="now"
      :ready="ready"
      :paused="paused"
      :volume="volume"
      :speed="speed"
      :text="shownText"
      :height="quality"
      :can-float="canFloat"
      :can-cast="canCast"
      @toggle="toggle"
      @seek="seek"
      @step="seek(now + $event)"
      @next="next"
      @volume="loud"
      @sound="choose('sound', $event)"
      @text="choose('text', $event)"
      @height="choose('height', $event)"
      @version="anew"
      @speed="pace"
      @facts="facts = !facts"
      @float="media?.requestPictureInPicture().catch(() => undefined)"
      @cast="media?.remote.prompt().catch(() => undefined)"
      @full="full.toggle()"
    />
  </main>
</template>

<style scoped src="./play.css"></style>
