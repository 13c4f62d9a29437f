<script setup lang="ts">
/** A link that is shown once: to copy, and to take with the camera of a phone. */
import { useClipboard } from '@vueuse/core'
import { useI18n } from 'vue-i18n'

defineProps<{ link: string; picture: string; lead: string; hint: string }>()
const { t } = useI18n()
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <div class="made">
    <img :src="picture" :alt="t('invite.picture')" width="148" height="148" />
    <div>
      <p>{{ lead }}</p>
      <p class="mono link-text" data-test="made-link">{{ link }}</p>
      <el-button @click="copy(link)">{{
        copied ? t('invite.copied') : t('invite.copy')
      }}</el-button>
      <p class="soft">{{ hint }}</p>
    </div>
  </div>
</template>

<style scoped>
.made {
  display: flex;
  flex-wrap: wrap;
  gap: 20px;
}
img {
  background: #fff;
  border-radius: 3px;
}
p {
  margin: 0 0 10px;
}
.made div {
  flex: 1 1 260px;
  min-width: 0;
}
.link-text {
  overflow-wrap: anywhere;
  user-select: all;
}
.soft {
  margin: 10px 0 0;
}
</style>
