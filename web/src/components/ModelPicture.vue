<script setup lang="ts">
// A model's picture; asked for again while its view is being derived.
import { onBeforeUnmount, ref } from 'vue'

const props = defineProps<{ id: string }>()
const tries = ref(0)
let timer = 0

function again() {
  if (tries.value < 40) timer = window.setTimeout(() => tries.value++, 700 + 150 * tries.value)
}
onBeforeUnmount(() => window.clearTimeout(timer))
const address = () => `/api/models/${props.id}/thumbnail.svg${tries.value ? `?again=${tries.value}` : ''}`
</script>

<template>
  <img :src="address()" alt="" @error="again" />
</template>

<style scoped>
img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
</style>
