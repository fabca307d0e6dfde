<script setup lang="ts">
// A text kept when it is left or Enter is pressed; Esc goes back. What is typed meanwhile is the field's own.
import { ref, watch } from 'vue'

const props = defineProps<{ value: string; rows?: number; disabled?: boolean }>()
const emit = defineEmits<{ change: [text: string] }>()
const text = ref<string | number>(props.value)
watch(
  () => props.value,
  (v) => (text.value = v),
)
function done() {
  const said = String(text.value) // fields of type number hold numbers
  if (said !== props.value) emit('change', said)
}
</script>

<template>
  <textarea v-if="rows" v-model="text" class="text-field" :rows="rows" :disabled="disabled" @change="done" @keydown.esc.stop="text = value" />
  <input v-else v-model="text" class="text-field" :disabled="disabled" @change="done" @keydown.esc.stop="text = value" />
</template>

<style scoped>
.text-field {
  font: inherit;
  color: inherit;
  width: 100%;
  min-height: 30px;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
  background: var(--field);
  resize: vertical;
}
.text-field:disabled {
  color: var(--quiet);
  background: var(--ground);
}
.text-field::placeholder {
  color: var(--quiet);
}
</style>
