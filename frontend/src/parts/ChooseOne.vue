<script setup lang="ts">
/** One of a few, with what is chosen before it. */
defineProps<{
  label: string
  /** How tests find it. */
  name: string
  value: string
  options: readonly (readonly [value: string, text: string])[]
}>()
const emit = defineEmits<{ choose: [value: string] }>()
</script>

<template>
  <label class="choose"
    >{{ label }}
    <select
      :value="value"
      :data-test="name"
      @change="emit('choose', ($event.target as HTMLSelectElement).value)"
    >
      <option v-for="[one, text] in options" :key="one" :value="one">{{ text }}</option>
    </select></label
  >
</template>

<style scoped>
.choose {
  display: inline-flex;
  gap: 7px;
  align-items: center;
  color: var(--ink-soft);
  font-size: 13px;
}
select {
  height: 28px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--card);
  color: var(--ink);
  font: inherit;
}
</style>
