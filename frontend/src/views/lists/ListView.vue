<script setup lang="ts">
/** One playlist: played through, ordered by dragging and by keys, opened to the household, shared, taken along as a file. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessageBox } from 'element-plus'
import 'element-plus/es/components/message-box/style/css'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Place } from '@/api/client'
import { usePlayer } from '@/composables/usePlayer'
import { clock } from '@/composables/words'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import ShareSheet from '@/parts/ShareSheet.vue'
import AlbumWall from './AlbumWall.vue'
import PlaceRow from './PlaceRow.vue'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const player = usePlayer()
const id = computed(() => Number(route.params.id))
const params = computed(() => ({ path: { list_id: id.value } }))
const { data, error, refetch } = useQuery({
  queryKey: ['list', id],
  queryFn: () => ask(api.GET('/api/lists/{list_id}', { params: params.value })),
})
const list = computed(() => data.value?.list)
const places = computed(() => data.value?.places ?? [])
/** The shelf that fills it, narrowed down as it is. */
const shelf = computed(() => {
  const rule = list.value?.rule
  if (!rule) return undefined
  const query = {
    ...(rule.traits && { with: rule.traits }),
    ...(rule.words && { filter: rule.words }),
    ...(rule.year && { year: rule.year }),
    ...(rule.sort !== 'title' && { sort: rule.sort }),
  }
  return { path: `/catalog/${rule.shelf}`, query }
})
const changing = useMutation({
  mutationFn: (body: { name?: string; is_open?: boolean; order?: number[] }) =>
    ask(
      api.PATCH('/api/lists/{list_id}', {
        params: params.value,
        body: { name: null, is_open: null, order: null, ...body },
      }),
    ),
  onSettled: renewed,
})
const dropping = useMutation({
  mutationFn: (items: number[]) =>
    ask(api.POST('/api/lists/{list_id}/drop', { params: params.value, body: { item_ids: items } })),
  onSettled: renewed,
})
function renewed(): Promise<unknown> {
  return Promise.all(['list', 'lists'].map((key) => client.invalidateQueries({ queryKey: [key] })))
}
/** Music alone plays on in the bar that stays; anything else has the window. */
function play(at = 0): void {
  const playable = places.value.filter((place) => place.file_id && place.entry.kind !== 'photo')
  const from = places.value.slice(at).find((place) => playable.includes(place))
  if (!from || !list.value) return
  if (playable.some((place) => place.entry.kind !== 'track')) {
    void router.push(`/play/${from.entry.id}?list=${id.value}`)
    return
  }
  player.play(
    {
      title: list.value.name,
      subtitle: '',
      picture: list.value.pictures[0] ?? null,
      entryId: from.entry.id,
      items: playable.map((place) => ({
        file_id: place.file_id ?? 0,
        label: place.entry.title,
        entry_id: place.entry.id,
        seconds: place.seconds,
        extra: false,
        by: place.entry.subtitle,
        picture: place.entry.picture,
      })),
    },
    playable.indexOf(from),
  )
}
const held = ref<number>()
function move(from: number, to: number): void {
  if (to < 0 || to >= places.value.length || from === to) return
  const order = [...places.value]
  order.splice(to, 0, ...order.splice(from, 1))
  client.setQueryData(['list', id.value], { ...data.value, places: order })
  changing.mutate({ order: order.map((place) => place.item_id) })
  void nextTick(() => document.querySelectorAll<HTMLElement>('[data-place]')[to]?.focus())
}
function drop(place: Place): void {
  dropping.mutate([place.item_id])
}
const naming = ref(false)
const name = ref('')
function rename(): void {
  if (name.value.trim() && name.value.trim() !== list.value?.name)
    changing.mutate({ name: name.value.trim() })
  naming.value = false
}
async function remove(): Promise<void> {
  try {
    await ElMessageBox.confirm(
      t('lists.removeSure', { name: list.value?.name ?? '' }),
      t('lists.remove'),
      { confirmButtonText: t('lists.remove'), cancelButtonText: t('house.cancel') },
    )
  } catch {
    return
  }
  await ask(api.DELETE('/api/lists/{list_id}', { params: params.value }))
  await client.invalidateQueries({ queryKey: ['lists'] })
  await router.push('/catalog/lists')
}
watch(list, (now) => now && (document.title = `${now.name} · Indice`))
</script>

<template>
  <div class="list" :class="{ wide: list?.is_album }">
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <ProblemNote v-if="changing.error.value" :error="changing.error.value" />
    <template v-if="list">
      <p class="trail">
        <RouterLink :to="list.is_album ? '/catalog/photos/albums' : '/catalog/lists'">{{
          list.is_album ? t('ways.albums') : t('lists.title')
        }}</RouterLink>
        <span v-if="!list.is_own" class="faint">{{ list.by }}</span>
      </p>
      <form v-if="naming" class="naming" @submit.prevent="rename">
        <input v-model="name" maxlength="120" :aria-label="t('lists.rename')" autofocus />
        <el-button native-type="submit" type="primary">{{ t('page.keep') }}</el-button>
      </form>
      <h1 v-else>{{ list.name }}</h1>
      <p class="soft meta">
        <template v-if="list.rule">{{ t('lists.fillsItself') }}, </template
        >{{ t('lists.places', places.length)
        }}<template v-if="data?.seconds">, {{ clock(data.seconds) }}</template>
      </p>
      <p class="acts">
        <el-button
          v-if="places.some((place) => place.file_id && place.entry.kind !== 'photo')"
          type="primary"
          data-test="play-list"
          @click="play()"
          >▶&nbsp; {{ t('page.playAll') }}</el-button
        >
        <RouterLink v-if="shelf" :to="shelf" data-test="rule">{{ t('lists.rule') }}</RouterLink>
        <template v-if="list.is_own">
          <label class="open"
            ><input
              type="checkbox"
              :checked="list.is_open"
              data-test="open-list"
              @change="changing.mutate({ is_open: !list.is_open })"
            />
            {{ t('lists.open') }}</label
          >
          <ShareSheet v-if="!list.rule" :list-id="list.id" :title="list.name" />
          <button class="link" @click="((name = list.name), (naming = true))">
            {{ t('lists.rename') }}
          </button>
          <button class="link" @click="remove">{{ t('lists.remove') }}</button>
        </template>
        <span class="files"
          ><a :href="`/api/lists/${list.id}/file?form=m3u8`" download>M3U8</a
          ><a :href="`/api/lists/${list.id}/file?form=xspf`" download>XSPF</a></span
        >
      </p>
      <AlbumWall
        v-if="list.is_album && places.length"
        :places="places"
        :is-own="list.is_own && !list.rule"
        @drop="drop"
        @move="move"
      />
      <ol v-else-if="places.length" class="card">
        <PlaceRow
          v-for="(place, at) in places"
          :key="place.item_id"
          :place="place"
          :at="at"
          :is-own="list.is_own && !list.rule"
          :class="{ held: held === at }"
          @play="play(at)"
          @drop="drop(place)"
          @move="(to) => move(at, to)"
          @take="held = at"
          @lay="held !== undefined && (move(held, at), (held = undefined))"
        />
      </ol>
      <EmptyPlace v-else-if="list.rule" :title="t('lists.emptyRule')" />
      <EmptyPlace v-else :title="t('lists.empty')" :how="t('lists.emptyHow')" />
    </template>
  </div>
</template>

<style scoped>
.list {
  max-width: 860px;
  margin: 0 auto;
  padding: 18px 24px 40px;
}
.wide {
  max-width: none;
}
.trail {
  display: flex;
  gap: 12px;
  margin: 0 0 4px;
  font-size: 13px;
}
h1 {
  margin: 0;
  overflow-wrap: anywhere;
}
.naming {
  display: flex;
  gap: 8px;
}
.naming input {
  flex: 1;
  padding: 4px 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: 700 20px var(--serif);
}
.meta {
  margin: 2px 0 14px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: center;
  margin: 0 0 16px;
}
.open {
  display: inline-flex;
  gap: 7px;
  align-items: center;
  font-size: 13px;
}
.open input {
  accent-color: var(--accent);
}
.files {
  display: inline-flex;
  gap: 12px;
  margin-inline-start: auto;
  font: 12.5px var(--mono);
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
@media (max-width: 760px) {
  .list {
    padding: 12px;
  }
}
</style>
