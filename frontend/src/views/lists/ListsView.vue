<script setup lang="ts">
/** Playlists: one's own, and what others have opened to the household; files of other players come in here. */
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Playlist } from '@/api/client'
import { useLists } from '@/composables/useLists'
import CoverImage from '@/parts/CoverImage.vue'
import EmptyPlace from '@/parts/EmptyPlace.vue'
import ProblemNote from '@/parts/ProblemNote.vue'
import CatalogTabs from '../catalog/CatalogTabs.vue'
import ShelfWays from '../catalog/ShelfWays.vue'

const { t } = useI18n()
const router = useRouter()
const client = useQueryClient()
const { data, lists, error, refetch } = useLists()
/** Of photos only those lists are told that hold nothing else. */
const route = useRoute()
const albums = computed(() => route.name === 'albums')
const shown = computed(() => lists.value.filter((one) => !albums.value || one.is_album))
const name = ref('')
const chooser = useTemplateRef<HTMLInputElement>('chooser')
const groups = computed(() =>
  [
    { title: '', lists: shown.value.filter((one) => one.is_own) },
    { title: t('lists.ofOthers'), lists: shown.value.filter((one) => !one.is_own) },
  ].filter((group) => group.lists.length),
)
const making = useMutation({
  mutationFn: () =>
    ask(api.POST('/api/lists', { body: { name: name.value.trim(), entry_ids: [], rule: null } })),
  onSuccess: async ({ id }) => {
    name.value = ''
    await client.invalidateQueries({ queryKey: ['lists'] })
    await router.push(`/catalog/list/${id}`)
  },
})
const reading = useMutation({
  mutationFn: async (file: File) => {
    const letters = Array.from(new Uint8Array(await file.arrayBuffer()), (code) =>
      String.fromCharCode(code),
    )
    const body = { name: file.name.replace(/\.[^.]*$/, ''), content: btoa(letters.join('')) }
    return ask(api.POST('/api/lists/file', { body }))
  },
  onSuccess: () => client.invalidateQueries({ queryKey: ['lists'] }),
})
function read(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) reading.mutate(file)
  input.value = ''
}
const counted = (one: Playlist) =>
  [
    t('lists.places', one.count),
    one.rule ? t('lists.fillsItself') : '',
    one.is_own ? '' : one.by,
    one.is_own && one.is_open ? t('lists.isOpen') : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="lists">
    <header>
      <CatalogTabs :shelf="albums ? 'photos' : 'lists'" />
      <ShelfWays v-if="albums" of="photos" at="albums" class="to-end" />
      <form v-else @submit.prevent="name.trim() && making.mutate()">
        <input
          v-model="name"
          maxlength="120"
          :placeholder="t('lists.nameNew')"
          :aria-label="t('lists.nameNew')"
          data-test="new-list"
        />
        <el-button native-type="submit" :disabled="!name.trim()">{{ t('lists.make') }}</el-button>
        <el-button @click="chooser?.click()">{{ t('lists.bringIn') }}</el-button>
        <input
          ref="chooser"
          type="file"
          accept=".m3u,.m3u8,.xspf"
          class="hidden"
          :aria-label="t('lists.bringIn')"
          data-test="list-file"
          @change="read"
        />
      </form>
    </header>
    <ProblemNote v-if="error" :error="error" :retry="refetch" />
    <ProblemNote v-if="making.error.value" :error="making.error.value" />
    <ProblemNote v-if="reading.error.value" :error="reading.error.value" />
    <section v-if="reading.data.value" class="card came" role="status">
      <p>
        {{ t('lists.cameIn', { n: reading.data.value.count }, reading.data.value.count) }}
        <RouterLink :to="`/catalog/list/${reading.data.value.id}`">{{
          t('lists.look')
        }}</RouterLink>
      </p>
      <template v-if="reading.data.value.unknown.length">
        <p>{{ t('lists.notFound', reading.data.value.unknown.length) }}</p>
        <ul class="mono">
          <li v-for="path in reading.data.value.unknown" :key="path">{{ path }}</li>
        </ul>
      </template>
    </section>
    <section v-for="group in groups" :key="group.title">
      <h2 v-if="group.title">{{ group.title }}</h2>
      <div class="wall">
        <RouterLink
          v-for="one in group.lists"
          :key="one.id"
          :to="`/catalog/list/${one.id}`"
          class="list"
        >
          <span class="fan" :class="`of-${one.pictures.length}`">
            <CoverImage
              v-for="picture in one.pictures"
              :key="picture.digest"
              :picture="picture"
              title=""
              kind="list"
              :size="240"
            />
          </span>
          <b>{{ one.name }}</b>
          <span class="soft">{{ counted(one) }}</span>
        </RouterLink>
      </div>
    </section>
    <EmptyPlace
      v-if="data && albums && !shown.length"
      :title="t('lists.noAlbum')"
      :how="t('lists.noAlbumHow')"
    />
    <EmptyPlace
      v-else-if="data && !lists.length"
      :title="t('lists.none')"
      :how="t('lists.noneHow')"
    />
  </div>
</template>

<style scoped>
.lists {
  padding: 14px 24px 40px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 24px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 16px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
form :deep(.el-button + .el-button) {
  margin-inline-start: 0;
}
form input {
  height: 32px;
  width: 190px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
.hidden {
  display: none;
}
.came {
  margin-bottom: 16px;
  padding: 12px 16px;
}
.came p {
  margin: 0 0 4px;
}
.came ul {
  max-height: 180px;
  margin: 6px 0 0;
  padding: 0 0 0 18px;
  overflow: auto;
  color: var(--ink-soft);
}
.wall {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 20px 18px;
}
.list {
  display: flex;
  flex-direction: column;
  color: var(--ink);
}
.list:hover {
  text-decoration: none;
}
.list:hover b {
  color: var(--accent);
}
.list b {
  margin-top: 7px;
  font: 700 14.5px/1.3 var(--serif);
  overflow-wrap: anywhere;
}
.list .soft {
  font-size: 12.5px;
}
/* Cards of a list lie over one another, as a hand of them does. */
.fan {
  position: relative;
  aspect-ratio: 4 / 3;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: repeating-linear-gradient(var(--card) 0 21px, var(--rule) 21px 22px);
  box-shadow: var(--shadow);
  overflow: hidden;
}
.fan > * {
  position: absolute;
  top: 10%;
  width: 46%;
  height: 80%;
  border: 1px solid var(--rule);
  box-shadow: var(--shadow);
}
.fan > :nth-child(1) {
  inset-inline-start: 5%;
}
.fan > :nth-child(2) {
  inset-inline-start: 21%;
}
.fan > :nth-child(3) {
  inset-inline-start: 37%;
}
.fan > :nth-child(4) {
  inset-inline-start: 51%;
}
.fan.of-1 > * {
  inset-inline-start: 27%;
}
.fan.of-2 > :nth-child(1) {
  inset-inline-start: 14%;
}
.fan.of-2 > :nth-child(2) {
  inset-inline-start: 40%;
}
@media (max-width: 760px) {
  .lists {
    padding: 12px;
  }
  .wall {
    grid-template-columns: repeat(auto-fill, minmax(140px, 1fr));
    gap: 14px 12px;
  }
}
</style>
