<script lang="ts">
export interface MenuItem {
  name: string
  run: () => void
}
</script>

<script setup lang="ts">
// The short menu of the right button: what can be done with the thing under the pointer.
defineProps<{ x: number; y: number; title: string; items: MenuItem[] }>()
defineEmits<{ close: [] }>()
</script>

<template>
  <div class="menu" :style="{ left: `${x}px`, top: `${y}px` }" role="menu" @pointerdown.stop>
    <span class="quiet">{{ title }}</span>
    <button v-for="i in items" :key="i.name" role="menuitem" @click="(i.run(), $emit('close'))">{{ i.name }}</button>
  </div>
</template>

<style scoped>
.menu {
  position: absolute;
  width: 192px;
  background: var(--panel);
  border-radius: 6px;
  box-shadow: var(--shadow);
  padding: 6px;
  display: grid;
}
span {
  padding: 2px 8px 4px;
  font-size: 12px;
}
button {
  text-align: left;
  padding: 5px 8px;
  border-radius: 6px;
}
button:hover {
  background: var(--accent-ground);
}
</style>
