<script setup lang="ts">
import { away } from '@/api/patience'
</script>

<template>
  <RouterView />
  <div v-if="away" class="away" role="status" data-test="away">
    Moorcrest does not answer just now. What was kept is safe, and this page goes on by itself.
  </div>
</template>

<style scoped>
.away {
  position: fixed;
  z-index: 4000;
  inset: auto 0 44px;
  width: fit-content;
  margin: 0 auto;
  padding: 8px 16px;
  border: 1px solid var(--line);
  border-left: 4px solid var(--fault);
  border-radius: 4px;
  background: var(--paper);
  color: var(--ink);
  box-shadow: 0 2px 10px rgb(0 0 0 / 15%);
}
</style>
