<script setup lang="ts">
/** The moments around a photo, laid over it and played once. */
import { onMounted, useTemplateRef, watch } from 'vue'
import { usePlayback } from '@/composables/usePlayback'

const props = defineProps<{ entryId: number; label: string }>()
const emit = defineEmits<{ over: [] }>()
const video = useTemplateRef<HTMLVideoElement>('video')
const { told, problem, begin, attach } = usePlayback(() => video.value)
watch(told, (what) => what && void attach(0))
watch(problem, (what) => what && emit('over'))
onMounted(() => begin({ entryId: props.entryId }))
</script>

<template>
  <video ref="video" playsinline :aria-label="label" @ended="emit('over')"></video>
</template>
