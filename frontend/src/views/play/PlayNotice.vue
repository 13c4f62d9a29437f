<script setup lang="ts">
/** What is said instead of a picture: what is wrong, and what one can do. */
import { onBeforeUnmount, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Problem } from '@/api/client'

const props = defineProps<{ problem: Problem }>()
const emit = defineEmits<{ again: []; original: [] }>()
const { t, te } = useI18n()
const words = te(`player.problem.${props.problem.reference}`)
  ? t(`player.problem.${props.problem.reference}`)
  : props.problem.message
/** Where the server says when to ask again, that is done. */
const left = ref(props.problem.retryAfter)
const ticking = left.value
  ? setInterval(() => {
      if (--left.value <= 0) emit('again')
    }, 1000)
  : undefined
onBeforeUnmount(() => clearInterval(ticking))
</script>

<template>
  <div class="notice" role="alert">
    <p class="words">{{ words }}</p>
    <p v-if="problem.hint && problem.reference !== 'broke-off'" class="soft">{{ problem.hint }}</p>
    <p class="acts">
      <button v-if="problem.status !== 422" class="act" data-test="again" @click="emit('again')">
        {{ problem.reference === 'broke-off' ? t('player.goOn') : t('player.again') }}
        <template v-if="left > 0"> ({{ left }})</template>
      </button>
      <button v-if="problem.status === 429" class="act" @click="emit('original')">
        {{ t('player.asItIs') }}
      </button>
      <a v-if="problem.download" class="act" :href="problem.download" data-test="download">{{
        t('player.download')
      }}</a>
    </p>
  </div>
</template>

<style scoped>
.notice {
  max-width: 520px;
  padding: 26px 30px;
  border: 1px solid #544c3c;
  border-radius: 4px;
  background: #26231d;
}
.words {
  margin: 0 0 6px;
  font: 700 19px/1.35 var(--serif);
}
.soft {
  margin: 0;
  color: #c2b9a5;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 18px 0 0;
}
.act {
  appearance: none;
  padding: 6px 14px;
  border: 1px solid #74bfc0;
  border-radius: 3px;
  background: none;
  color: #9cd3d3;
  cursor: pointer;
}
</style>
