<script setup lang="ts">
// One balloon: its item, the items stacked on it, and whether it says how many there are.
import { computed, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import LostNote from './LostNote.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const balloon = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'balloon' ? a : undefined
})
const items = ref<Schemas['GroupChoice'][]>([])
watch(
  () => desk.drawing?.version,
  async () => {
    try {
      items.value = await data(api.GET('/api/drawings/{drawing_id}/items', { params: { path: { drawing_id: desk.drawing!.id } } }))
    } catch (error) {
      desk.fail(error)
    }
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="balloon">
    <h2>Balloon</h2>
    <p class="quiet sub">on {{ balloon.instance }}, ends on {{ balloon.on === 'edge' ? 'an edge' : 'a face' }}; drag it, or the end of its leader</p>
    <LostNote :id="id" />
    <div class="row"><span class="label">Quantity</span><el-checkbox :model-value="!!balloon.quantity" data-test="balloon-quantity" @change="(v) => desk.edit({ command: 'change', ids: [id], values: { quantity: !!v } })">under the number</el-checkbox></div>
    <div class="row"><span class="label">Stacked on it</span>
      <el-select :model-value="balloon.stacked ?? []" multiple placeholder="none" data-test="balloon-stacked" @change="(v: string[]) => desk.edit({ command: 'change', ids: [id], values: { stacked: v } })">
        <el-option v-for="i in items" :key="i.key" :value="i.key" :label="`${i.item} ${i.name}`" />
      </el-select></div>
    <div v-if="balloon.stacked?.length" class="row"><span class="label">Stacked</span>
      <el-select :model-value="balloon.stack ?? 'right'" @change="(v: 'right' | 'down' | 'left' | 'up') => desk.edit({ command: 'change', ids: [id], values: { stack: v } })">
        <el-option v-for="way in ['right', 'down', 'left', 'up']" :key="way" :value="way" :label="way" />
      </el-select></div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>
