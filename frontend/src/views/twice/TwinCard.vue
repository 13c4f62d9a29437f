<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Twin } from '@/api/client'
import CoverImage from '@/parts/CoverImage.vue'
import PictureWiper from './PictureWiper.vue'

const props = defineProps<{ twin: Twin; keep: number; chosen: boolean; at: boolean }>()
const emit = defineEmits<{ keep: [id: number]; choose: []; distinct: []; here: [] }>()
const { t } = useI18n()
const compared = ref<number>()
const first = computed(() => props.twin.files.find((file) => file.id === props.keep))
const second = computed(() => props.twin.files.find((file) => file.id === compared.value))
const isPicture = computed(
  () =>
    props.twin.kind === 'near-picture' &&
    props.twin.files.every((f) => f.kind === 'photo' && f.picture),
)
const why = computed(() => {
  const [part, rest] = props.twin.why.split(', ')
  const word = (text: string) => t(`twice.because.${text.toLowerCase().replaceAll(' ', '-')}`)
  return rest ? `${word(part ?? '')}, ${word(rest).toLowerCase()}` : word(props.twin.why)
})
const stem = (path: string) => path.slice(path.lastIndexOf('/') + 1)
const folder = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')))
</script>

<template>
  <article class="card twin" :class="{ at, chosen }" @focusin="emit('here')">
    <header>
      <span class="label">{{ t(`twice.kind.${twin.kind}`) }}</span>
      <span class="soft">{{ why }}</span>
      <span class="acts">
        <button class="link" @click="emit('distinct')">{{ t('twice.distinct') }}</button>
        <el-button size="small" :type="chosen ? 'primary' : undefined" @click="emit('choose')">{{
          chosen ? t('twice.chosen') : t('twice.choose')
        }}</el-button>
      </span>
    </header>
    <div class="files" role="radiogroup" :aria-label="t('twice.which')">
      <label v-for="file in twin.files" :key="file.id" :class="{ kept: file.id === keep }">
        <CoverImage
          v-if="file.picture"
          class="picture"
          :class="file.kind"
          :picture="file.picture"
          :title="stem(file.path)"
          kind="photo"
          :size="240"
          contain
        />
        <span class="words">
          <span class="choice"
            ><input
              type="radio"
              :name="`twin-${twin.id}`"
              :checked="file.id === keep"
              @change="emit('keep', file.id)"
            /><b>{{ file.id === keep ? t('twice.keep') : t('twice.toBin') }}</b></span
          >
          <span class="mono name">{{ stem(file.path) }}</span>
          <span class="soft where">{{
            [file.library, folder(file.path)].filter(Boolean).join(' / ')
          }}</span>
          <span class="mono quality">{{ file.quality }}</span>
          <button
            v-if="isPicture && file.id !== keep"
            class="link"
            :aria-expanded="compared === file.id"
            @click.prevent="compared = compared === file.id ? undefined : file.id"
          >
            {{ t('twice.compare') }}
          </button>
        </span>
      </label>
    </div>
    <PictureWiper v-if="first && second" :one="first" :other="second" />
  </article>
</template>

<style scoped>
.twin {
  padding: 12px 16px 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  border-inline-start: 3px solid transparent;
}
.twin.at {
  border-inline-start-color: var(--ink);
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 14px;
}
.label {
  margin: 0;
}
.acts {
  margin-inline-start: auto;
  display: flex;
  gap: 14px;
  align-items: center;
}
.files {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 12px;
}
label {
  display: flex;
  gap: 12px;
  padding: 8px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  cursor: pointer;
  min-width: 0;
}
label.kept {
  border-color: var(--moss);
}
.chosen label:not(.kept) .name {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.picture {
  flex: 0 0 112px;
  height: 84px;
}
.words {
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
  align-items: flex-start;
}
.choice {
  display: flex;
  gap: 7px;
  align-items: center;
}
.choice b {
  font-weight: 500;
}
label:has(:focus-visible) {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
.kept .choice b {
  color: var(--moss);
}
input {
  margin: 0;
  accent-color: var(--moss);
}
.name,
.where {
  overflow-wrap: anywhere;
}
.where {
  font-size: 13px;
}
.quality {
  font-size: 12px;
}
</style>
