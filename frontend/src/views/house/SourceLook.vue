<script setup lang="ts">
/** Asks a service at an address what it is, and drafts a profile from what it says. */
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, ask, type Look } from '@/api/client'
import ProblemNote from '@/parts/ProblemNote.vue'

const props = defineProps<{ secret: string }>()
const emit = defineEmits<{ found: [look: Look] }>()
const { t } = useI18n()
const url = ref('')
const {
  data: seen,
  error,
  isPending,
  mutate,
} = useMutation({
  mutationFn: () =>
    ask(
      api.POST('/api/sources/look', { body: { url: url.value.trim(), key: props.secret || null } }),
    ),
  onSuccess: (found) => emit('found', found),
})
</script>

<template>
  <div class="look">
    <label
      >{{ t('house.address') }}<span class="faint">{{ t('house.addressHint') }}</span
      ><el-input
        v-model="url"
        type="url"
        placeholder="https://"
        spellcheck="false"
        data-test="source-url"
    /></label>
    <el-button
      :loading="isPending"
      :disabled="!url.trim()"
      data-test="source-look"
      @click="mutate()"
      >{{ t('house.readManifest') }}</el-button
    >
  </div>
  <ProblemNote v-if="error" :error="error" />
  <div v-if="seen" class="seen">
    <p>
      <b>{{ seen.name }}</b>
      {{ t('house.speaks', { versions: seen.versions.join(', '), n: seen.batch_size }) }}
      <template v-if="seen.wants_key">{{ t('house.wantsKey') }}</template>
    </p>
    <dl>
      <template v-for="(properties, type) in seen.properties" :key="type"
        ><dt class="mono">{{ type }}</dt>
        <dd class="mono soft">{{ properties.map((one) => one.id).join(' ') || '–' }}</dd></template
      >
    </dl>
    <p class="soft">{{ t('house.draftHint') }}</p>
  </div>
</template>

<style scoped>
.look {
  display: flex;
  gap: 10px;
  align-items: end;
  width: 100%;
}
.seen {
  width: 100%;
  font-size: 13px;
}
.seen p {
  margin: 0 0 4px;
}
.seen b {
  font: 700 14.5px var(--serif);
}
.seen dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 14px;
  margin: 6px 0;
}
.seen dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
