<script setup lang="ts" generic="T extends string | number">
/** A word that says what is chosen, and opens what else there is. */
defineProps<{
  name: string
  chosen: T
  options: readonly { value: T; label: string }[]
}>()
const emit = defineEmits<{ choose: [value: T] }>()
function choose(event: Event, options: readonly { value: T }[]): void {
  const option = options[(event.target as HTMLSelectElement).selectedIndex]
  if (option) emit('choose', option.value)
  ;(event.target as HTMLSelectElement).blur()
}
</script>

<template>
  <label class="choice">
    <span>{{ name }}</span>
    <b aria-hidden="true">{{ options.find((o) => o.value === chosen)?.label ?? '–' }}</b>
    <select :value="chosen" :aria-label="name" @change="choose($event, options)">
      <option v-for="option in options" :key="option.value" :value="option.value">
        {{ option.label }}
      </option>
    </select>
  </label>
</template>

<style scoped>
.choice {
  position: relative;
  display: inline-flex;
  gap: 5px;
  align-items: baseline;
  padding: 5px 8px;
  border-radius: 3px;
  color: #b9b09a;
  max-width: 220px;
}
.choice:hover,
.choice:focus-within {
  background: #38332a;
}
.choice:focus-within {
  outline: 2px solid #9cc9c6;
}
b {
  color: #f6f3ea;
  font-weight: 500;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
select {
  position: absolute;
  inset: 0;
  width: 100%;
  opacity: 0;
  cursor: pointer;
  font: inherit;
}
option {
  color: #1e2a2f;
  background: #fffdf7;
}
@media (max-width: 760px) {
  .choice {
    max-width: 150px;
  }
}
</style>
