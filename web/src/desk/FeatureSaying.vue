<script setup lang="ts">
// What no file knows of a hole or a shaft, said where it is picked.
import { ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import HoleList from '@/model/HoleList.vue'
import { useDesk } from './store'

const props = defineProps<{ instance: string; source: string }>()
const desk = useDesk()
const row = ref<Schemas['HoleRow'] | null>(null)

async function look() {
  const { instance, source } = props
  const drawing = desk.drawing?.id
  row.value = null
  if (!drawing) return
  const found = await data(api.GET('/api/drawings/{drawing_id}/sayable', { params: { path: { drawing_id: drawing }, query: { instance, source } } })).catch(() => null)
  if (instance === props.instance && source === props.source) row.value = found?.row ?? null
}
async function said() {
  await Promise.all([desk.renew(), look()])
}
watch(() => [props.instance, props.source], look, { immediate: true })
</script>

<template>
  <template v-if="row">
    <h3>Say what it is</h3>
    <p class="quiet sub">Kept with the part, for all its drawings.</p>
    <HoleList :id="desk.drawing!.model" :rows="[row]" data-test="sayable" @changed="said" />
  </template>
</template>

<style scoped>
h3 {
  margin-top: 16px;
}
</style>
