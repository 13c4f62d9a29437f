<script setup lang="ts">
/** One's own page, for who does not keep the house: password, browsers, the PIN. */
import { useI18n } from 'vue-i18n'
import LooksPanel from './LooksPanel.vue'
import PasskeysPanel from './PasskeysPanel.vue'
import SharesPanel from './SharesPanel.vue'
import TokensPanel from './TokensPanel.vue'
import YouPanel from './YouPanel.vue'

const { t } = useI18n()
</script>

<template>
  <div class="page">
    <h1 class="only-said">{{ t('place.you') }}</h1>
    <YouPanel /><LooksPanel /><PasskeysPanel /><TokensPanel /><SharesPanel class="links" />
  </div>
</template>

<style scoped>
.links {
  margin-top: 28px;
}
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 20px 24px 40px;
}
</style>
