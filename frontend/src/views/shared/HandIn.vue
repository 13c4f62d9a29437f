<script setup lang="ts">
/** Files that somebody hands in by a link, one after the other, with what came of each. */
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask } from '@/api/client'
import { bytes } from '@/composables/words'

const props = defineProps<{ share: string; left: number }>()
const { t, locale } = useI18n()
const done = ref<{ name: string; problem: string }[]>([])
const going = ref('')
const used = ref(0)
async function hand(files: readonly File[]): Promise<void> {
  for (const file of files) {
    going.value = file.name
    try {
      const { name } = await ask(
        api.POST('/api/shared/{share_key}/files/{name}', {
          params: { path: { share_key: props.share, name: file.name } },
          body: file as never,
          bodySerializer: (body: unknown) => body as File,
          headers: { 'Content-Type': 'application/octet-stream' },
        } as never),
      )
      used.value += file.size
      done.value.unshift({ name, problem: '' })
    } catch (reason) {
      done.value.unshift({ name: file.name, problem: (reason as Error).message })
    }
  }
  going.value = ''
}
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement
  void hand([...(input.files ?? [])])
}
</script>

<template>
  <section
    class="card hand"
    @dragover.prevent
    @drop.prevent="hand([...($event.dataTransfer?.files ?? [])])"
  >
    <label>
      <b>{{ t('share.hand') }}</b>
      <span class="soft">{{
        t('share.handLeft', { size: bytes(Math.max(0, left - used), locale) })
      }}</span>
      <input type="file" multiple :disabled="!!going" data-test="hand-in" @change="chosen" />
    </label>
    <p v-if="going" class="soft" role="status">{{ t('share.handing', { name: going }) }}</p>
    <p v-for="one in done" :key="one.name" :class="{ wrong: one.problem }">
      <span aria-hidden="true">{{ one.problem ? '▲' : '✓' }}</span> {{ one.name }}
      <span class="soft">{{ one.problem || t('share.handed') }}</span>
    </p>
  </section>
</template>

<style scoped>
.hand {
  padding: 14px 16px;
  border-style: dashed;
}
label {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
input {
  margin-top: 6px;
  font: inherit;
}
p {
  margin: 8px 0 0;
  overflow-wrap: anywhere;
}
.wrong {
  color: var(--stamp);
}
</style>
