<script setup lang="ts">
// What stands over the desk for a while: the sheet in two states, and beside it what is said of them. Esc leaves it.
import { useEventListener } from '@vueuse/core'

const emit = defineEmits<{ close: [] }>()
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== 'Escape') return
  event.stopImmediatePropagation()
  emit('close')
}, true)
</script>

<template>
  <div class="over-panel">
    <slot name="sheet" />
    <aside><slot /></aside>
  </div>
</template>

<style scoped>
.over-panel {
  position: absolute;
  inset: 0;
  z-index: 5;
  display: flex;
  background: var(--ground);
}
aside {
  width: 320px;
  flex: none;
  overflow: auto;
  padding: 16px;
  background: var(--panel);
  border-left: 1px solid var(--line);
}
aside :deep(h2) {
  margin: 6px 0 2px;
}
aside :deep(h3) {
  margin: 16px 0 4px;
  font-size: 13px;
}
aside :deep(p) {
  margin: 3px 0;
}
aside :deep(.wide) {
  width: 100%;
  margin-bottom: 6px;
}
aside :deep(.line) {
  display: block;
  width: 100%;
  padding: 2px 4px;
  border-radius: 4px;
  text-align: left;
  cursor: pointer;
}
aside :deep(.line:hover) {
  background: var(--accent-ground);
}
aside :deep(.link) {
  color: var(--accent);
  text-decoration: underline;
}
</style>
