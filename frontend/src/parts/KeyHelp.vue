<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const route = useRoute()
const OWN: Record<string, [string, string][]> = {
  names: [
    ['j k', 'move'],
    ['[ ]', 'turn'],
    ['w', 'whole'],
    ['a', 'accept'],
    ['s', 'skip'],
    ['e', 'edit'],
    ['x', 'excuse'],
    ['A', 'acceptAll'],
    ['Enter', 'review'],
    ['u', 'undo'],
  ],
  matches: [
    ['1 – 6', 'take'],
    ['n', 'none'],
    ['y', 'right'],
    ['g', 'group'],
    ['/', 'search'],
    ['u', 'undo'],
    ['j k', 'move'],
  ],
  folders: [
    ['j k', 'move'],
    ['Enter', 'open'],
  ],
  catalog: [
    ['j k', 'move'],
    ['Enter', 'open'],
  ],
}
const keys = computed(
  () =>
    [
      ...(OWN[route.path.split('/')[1] ?? ''] ?? []),
      ['q', 'queue'],
      ['l', 'lyrics'],
      ['Ctrl K', 'find'],
      ['?', 'help'],
    ] as [string, string][],
)
</script>

<template>
  <div class="back" @click.self="emit('close')" @keydown.esc="emit('close')">
    <div class="card" role="dialog" aria-modal="false" :aria-label="t('app.keys')">
      <h2>{{ t('app.keys') }}</h2>
      <dl>
        <template v-for="[key, what] in keys" :key="key"
          ><dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ t(`keys.${what}`) }}</dd></template
        >
      </dl>
      <el-button autofocus @click="emit('close')">{{ t('app.close') }}</el-button>
    </div>
  </div>
</template>

<style scoped>
.back {
  position: fixed;
  inset: 0;
  z-index: 60;
  display: grid;
  place-items: center;
  background: rgb(40 34 20 / 35%);
}
.card {
  padding: 20px 26px;
  min-width: 300px;
  box-shadow: var(--shadow);
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px 18px;
  margin: 14px 0 18px;
}
dd {
  margin: 0;
}
</style>
