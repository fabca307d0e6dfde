<script setup lang="ts">
// A model's picture; asked for again while its view is being derived.
import { onBeforeUnmount, ref } from 'vue'

const props = defineProps<{ id: string }>()
const tries = ref(0)
const there = ref(false)
let timer = 0

function again() {
  if (tries.value < 40) timer = window.setTimeout(() => tries.value++, 700 + 150 * tries.value)
}
onBeforeUnmount(() => window.clearTimeout(timer))
const address = () => `/api/models/${props.id}/thumbnail.svg${tries.value ? `?again=${tries.value}` : ''}`
</script>

<template>
  <img v-show="there" :src="address()" alt="" @load="there = true" @error="again" />
  <span v-if="!there" class="quiet">drawing its picture …</span>
</template>

<style scoped>
span {
  display: grid;
  place-items: center;
  height: 100%;
}
img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
</style>
