<script setup lang="ts">
// A hole table: how many holes it lists, and its removal.
import { computed } from 'vue'
import { picksOf } from './spots'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const table = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'hole_table' ? a : undefined
})
const lost = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id)?.lost)
</script>

<template>
  <div v-if="table">
    <h2>Hole table</h2>
    <p class="quiet sub">{{ picksOf(table).length - 1 }} holes from one origin; drag it to move it</p>
    <p v-if="lost" class="fault-note">{{ lost }}</p>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>
