<script setup lang="ts">
// Why something is lost, and the way to hang it on again.
import { computed } from 'vue'
import { HANG_AGAIN } from './hangAgain'
import { useDesk } from './store'
import { useTools } from './tools'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
</script>

<template>
  <div v-if="ink?.lost">
    <p class="fault-note">{{ ink.lost }}</p>
    <el-button v-if="ink.missing?.length" data-test="hang-again" @click="tools.start(HANG_AGAIN)">Hang it on again</el-button>
  </div>
</template>
