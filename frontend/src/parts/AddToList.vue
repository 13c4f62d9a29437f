<script setup lang="ts">
/** Puts entries into a list of one's own; a new one is made by typing its name. */
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useListing, useLists } from '@/composables/useLists'

const props = defineProps<{ entryIds: readonly number[] }>()
const { t } = useI18n()
const { own } = useLists()
const open = ref(false)
const words = ref('')
const listing = useListing((name, count) =>
  ElMessage({ message: t('lists.added', { name, n: count }, count), type: 'success' }),
)
const shown = computed(() =>
  own.value.filter((one) => one.name.toLowerCase().includes(words.value.trim().toLowerCase())),
)
const isNew = computed(
  () =>
    words.value.trim() !== '' &&
    !own.value.some((one) => one.name.toLowerCase() === words.value.trim().toLowerCase()),
)
async function put(listId: number | undefined, name: string): Promise<void> {
  await listing.mutateAsync({ entryIds: [...props.entryIds], listId, name })
  open.value = false
  words.value = ''
}
function enter(): void {
  const first = shown.value[0]
  if (isNew.value) void put(undefined, words.value.trim())
  else if (first) void put(first.id, first.name)
}
</script>

<template>
  <el-popover v-model:visible="open" trigger="click" :width="260" placement="bottom-start">
    <template #reference>
      <button type="button" class="pill" data-test="to-list" :aria-expanded="open">
        <span aria-hidden="true">＋</span> {{ t('lists.addTo') }}
      </button>
    </template>
    <form class="lists" @submit.prevent="enter">
      <input
        v-model="words"
        maxlength="120"
        :placeholder="own.length ? t('lists.which') : t('lists.nameNew')"
        :aria-label="t('lists.which')"
        data-test="list-name"
      />
      <ul>
        <li v-for="one in shown" :key="one.id">
          <button type="button" class="plain" @click="put(one.id, one.name)">
            {{ one.name }} <span class="mono faint">{{ one.count }}</span>
          </button>
        </li>
        <li v-if="isNew">
          <button type="submit" class="plain new" :disabled="listing.isPending.value">
            ＋ {{ t('lists.makeNamed', { name: words.trim() }) }}
          </button>
        </li>
      </ul>
    </form>
  </el-popover>
</template>

<style scoped>
.lists input {
  box-sizing: border-box;
  width: 100%;
  height: 32px;
  padding: 0 9px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
ul {
  max-height: 240px;
  margin: 6px -4px 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}
li button {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  width: 100%;
  padding: 5px 8px;
  border-radius: 3px;
  color: var(--ink);
  text-align: start;
  overflow-wrap: anywhere;
}
li button:hover,
li button:focus-visible {
  background: var(--accent-soft);
}
.new {
  color: var(--accent);
}
</style>
