<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { useMarks } from '@/composables/useMarks'
import AddToList from '@/parts/AddToList.vue'
import ProblemNote from '@/parts/ProblemNote.vue'

/** Fields of each shelf that make sense for many entries at once; lists can be added to. */
const FIELDS: Record<string, string[]> = {
  films: ['genres', 'set', 'rating', 'directors', 'cast', 'year'],
  series: ['genres', 'rating', 'cast', 'year'],
  music: ['genres', 'artist', 'year'],
  photos: ['keywords', 'people', 'plot'],
}
const LISTS = ['genres', 'directors', 'cast', 'keywords', 'people']
const props = defineProps<{
  shelf: string
  /** Who keeps the catalog writes facts; marks and lists are everybody's. */
  manages: boolean
  chosen: readonly number[]
  total: number
}>()
const emit = defineEmits<{ all: []; none: []; done: [] }>()
const { t } = useI18n()
const client = useQueryClient()
const field = ref(FIELDS[props.shelf]?.[0] ?? 'genres')
const text = ref('')
const error = ref<Error>()
const busy = ref(false)
const marking = useMarks()
const marks = computed(() =>
  ['films', 'series'].includes(props.shelf)
    ? (['favourite', 'seen'] as const)
    : (['favourite'] as const),
)
function mark(what: 'favourite' | 'seen'): void {
  marking.mutate(
    { entry_ids: [...props.chosen], [what]: true },
    {
      onSuccess: () =>
        ElMessage({ message: t('many.marked', props.chosen.length), type: 'success' }),
    },
  )
}
const isList = computed(() => LISTS.includes(field.value))
async function write(how: 'set' | 'add' | 'drop', takeBack = false): Promise<void> {
  const said = text.value.trim()
  if ((!said && !takeBack) || busy.value) return
  const value = takeBack
    ? null
    : isList.value
      ? said
          .split(',')
          .map((part) => part.trim())
          .filter(Boolean)
      : field.value === 'year'
        ? Number(said)
        : said
  error.value = undefined
  busy.value = true
  try {
    const { count } = await ask(
      api.POST('/api/entries/facts', {
        body: { entry_ids: [...props.chosen], field: field.value, value, how },
      }),
    )
    ElMessage({ message: t('many.done', count), type: 'success' })
    text.value = ''
    await client.invalidateQueries()
  } catch (reason) {
    error.value = reason as Error
  }
  busy.value = false
}
</script>

<template>
  <form class="many" :aria-label="t('many.title')" @submit.prevent="write(isList ? 'add' : 'set')">
    <span
      ><b class="mono">{{ t('many.chosen', { n: chosen.length, total }) }}</b
      >{{ ' ' }}<button type="button" class="link" @click="emit('all')">{{ t('many.all') }}</button
      >{{ ' '
      }}<button v-if="chosen.length" type="button" class="link" @click="emit('none')">
        {{ t('many.none') }}
      </button></span
    >
    <select v-if="manages" v-model="field" :aria-label="t('many.field')">
      <option v-for="name in FIELDS[shelf]" :key="name" :value="name">
        {{ t(`field.${name}`) }}
      </option>
    </select>
    <input
      v-if="manages"
      v-model="text"
      :aria-label="t('many.value')"
      :placeholder="isList ? t('many.list') : ''"
      data-test="many-value"
    />
    <template v-if="manages && isList">
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!chosen.length || !text.trim()"
        :loading="busy"
        data-test="many-add"
        >{{ t('many.add') }}</el-button
      >
      <el-button :disabled="!chosen.length || !text.trim() || busy" @click="write('drop')">{{
        t('many.drop')
      }}</el-button>
      <el-button :disabled="!chosen.length || !text.trim() || busy" @click="write('set')">{{
        t('many.only')
      }}</el-button>
    </template>
    <el-button
      v-else-if="manages"
      type="primary"
      native-type="submit"
      :disabled="!chosen.length || !text.trim()"
      :loading="busy"
      >{{ t('many.set') }}</el-button
    >
    <button
      v-if="manages"
      type="button"
      class="link"
      :disabled="!chosen.length"
      @click="write('set', true)"
    >
      {{ t('page.takeBack') }}
    </button>
    <template v-if="chosen.length">
      <button
        v-for="one in marks"
        :key="one"
        type="button"
        class="link"
        :data-test="`many-${one}`"
        @click="mark(one)"
      >
        {{ t(`many.${one}`) }}
      </button>
    </template>
    <AddToList v-if="chosen.length" :entry-ids="chosen" />
    <button type="button" class="link end" @click="emit('done')">{{ t('many.close') }}</button>
    <ProblemNote v-if="error" :error="error" class="wide" />
  </form>
</template>

<style scoped>
.many {
  position: sticky;
  bottom: 0;
  z-index: 25;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 20px -24px -40px;
  padding: 12px 24px;
  background: var(--desk);
  border-top: 2px solid var(--accent);
}
select,
input {
  font: inherit;
  height: 32px;
  padding: 0 9px;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
}
input {
  flex: 1;
  min-width: 160px;
  max-width: 320px;
}
.many :deep(.el-button + .el-button) {
  margin-inline-start: 0;
}
.end {
  margin-inline-start: auto;
}
.wide {
  width: 100%;
}
@media (max-width: 760px) {
  .many {
    margin: 16px -12px -40px;
    padding: 10px 12px;
  }
}
</style>
