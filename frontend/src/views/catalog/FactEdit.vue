<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

const LISTS = ['genres', 'directors', 'cast', 'keywords', 'people']
const props = defineProps<{ field: string; value: unknown; hasOwn: boolean }>()
const emit = defineEmits<{ save: [value: string | number | string[]]; back: []; cancel: [] }>()
const { t } = useI18n()
const text = ref(
  Array.isArray(props.value)
    ? props.value.join(', ')
    : props.value === undefined || props.value === null
      ? ''
      : String(props.value),
)
const box = ref<HTMLInputElement | HTMLTextAreaElement>()
onMounted(() => box.value?.focus())
function save(): void {
  const said = text.value.trim()
  if (!said) return
  emit(
    'save',
    LISTS.includes(props.field)
      ? said
          .split(',')
          .map((part) => part.trim())
          .filter(Boolean)
      : props.field === 'year'
        ? Number(said)
        : said,
  )
}
</script>

<template>
  <form class="edit" @submit.prevent="save" @keydown.esc.stop="emit('cancel')">
    <textarea
      v-if="field === 'plot' || field === 'lyrics'"
      ref="box"
      v-model="text"
      rows="4"
      :aria-label="field"
    ></textarea>
    <input
      v-else
      ref="box"
      v-model="text"
      :inputmode="field === 'year' ? 'numeric' : 'text'"
      :aria-label="field"
    />
    <span class="acts"
      ><button class="link" type="submit">{{ t('page.keep') }}</button
      ><button v-if="hasOwn" class="link" type="button" @click="emit('back')">
        {{ t('page.takeBack') }}</button
      ><button class="link" type="button" @click="emit('cancel')">
        {{ t('house.cancel') }}
      </button></span
    >
  </form>
</template>

<style scoped>
.edit {
  display: flex;
  flex-direction: column;
  gap: 5px;
  max-width: 620px;
}
input,
textarea {
  font: inherit;
  color: var(--ink);
  background: var(--card);
  border: 1px solid var(--accent);
  border-radius: 3px;
  padding: 4px 7px;
  width: 100%;
}
.acts {
  display: flex;
  gap: 16px;
}
</style>
