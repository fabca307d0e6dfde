<script setup lang="ts">
import { ICONS } from '@/desk/actions'

defineProps<{ name: string }>()
</script>

<template>
  <svg viewBox="0 0 22 22" width="20" height="20" fill="none" stroke="currentColor" stroke-width="1.5" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">
    <path :d="ICONS[name]" />
  </svg>
</template>
