<script setup lang="ts">
/** The files of a folder, as they are called or as they would be. */
import { useI18n } from 'vue-i18n'
import type { FileItem } from '@/api/client'
import DiffName from '@/parts/DiffName.vue'
import MarkedName from '@/parts/MarkedName.vue'
import StateSign from '@/parts/StateSign.vue'

/** Kinds that have no name of their own by the convention, or keep the one that they have. */
const UNTOUCHED = [
  ...['subtitle', 'artwork', 'extra', 'lyrics', 'sidecar', 'photo', 'clip', 'other', 'playlist'],
]
defineProps<{ files: FileItem[]; chosen: number | undefined; asWould: boolean }>()
const emit = defineEmits<{ pick: [id: number] }>()
const { t } = useI18n()
</script>

<template>
  <ul class="card files" :class="{ would: asWould }">
    <li
      v-for="item in files"
      :key="item.id"
      :class="{ at: item.id === chosen, trouble: item.problem }"
    >
      <button class="plain row" :aria-expanded="item.id === chosen" @click="emit('pick', item.id)">
        <StateSign :state="item.state" />
        <template v-if="!asWould">
          <MarkedName
            :path="item.path"
            :marks="item.marks"
            :from="item.directory ? Array.from(item.directory).length + 1 : 0"
            class="file"
          />
          <span class="taken soft"
            >{{ t(`file.${item.kind}`)
            }}<template
              v-if="
                item.serves &&
                item.serves !== 'main' &&
                t(`serves.${item.serves}`) !== t(`file.${item.kind}`)
              "
              >, {{ t(`serves.${item.serves}`) }}</template
            ></span
          >
        </template>
        <DiffName
          v-else-if="item.tidy && item.tidy !== item.path"
          :before="item.path"
          :after="item.tidy"
          class="file"
        />
        <span v-else class="file mono soft"
          >{{ item.name
          }}<em>{{
            item.tidy || UNTOUCHED.includes(item.kind) ? t('folders.leave') : t('folders.unknown')
          }}</em></span
        >
      </button>
      <p v-if="item.problem" class="problem"><StateSign state="name" />{{ item.problem }}</p>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.files li {
  border-bottom: 1px solid var(--rule);
}
.files li:last-child {
  border: 0;
}
.row {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: var(--row);
  padding: 5px 12px;
}
.row:hover {
  background: color-mix(in srgb, var(--accent-soft) 45%, transparent);
}
.at > .row {
  box-shadow: inset 0 0 0 2px var(--accent);
  border-radius: 3px;
}
.taken {
  font-size: 12.5px;
  white-space: nowrap;
}
.file em {
  font: italic 12px var(--sans);
  margin-inline-start: 12px;
  color: var(--ink-faint);
}
.problem {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 0;
  padding: 0 12px 7px 38px;
  color: var(--stamp);
  font-size: 12.5px;
}
@media (max-width: 860px) {
  .taken {
    display: none;
  }
}
</style>
