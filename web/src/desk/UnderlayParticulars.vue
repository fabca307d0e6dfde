<script setup lang="ts">
// A drawing of old: how large it is, its layers, and whether files show it.
import { computed } from 'vue'
import LostNote from './LostNote.vue'
import { useDesk } from './store'
import { useTools } from './tools'
import { useUnderlays, type Underlay } from './underlays'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const underlays = useUnderlays()
const a = computed(() => {
  const found = desk.annotation(props.id)
  return found?.kind === 'underlay' ? (found as Underlay) : undefined
})
const page = computed(() => (a.value ? underlays.pages.get(a.value.file) : undefined))
const ink = computed(() => desk.drawn?.annotations.find((o) => o.id === props.id))
const set = (values: Record<string, unknown>) => desk.edit({ command: 'change', ids: [props.id], values })
const isOff = (layer: string) => a.value?.off?.includes(layer) ?? false
const turn = (layer: string) => set({ off: isOff(layer) ? a.value!.off!.filter((n) => n !== layer) : [...(a.value!.off ?? []), layer] })
const left = computed(() => Object.entries(page.value?.left ?? {}).map(([kind, n]) => `${n} ${kind}`).join(', '))
</script>

<template>
  <div v-if="a" data-test="underlay-particulars">
    <h2>Underlay</h2>
    <p class="quiet sub">{{ ink?.text }}; drag it once it is chosen</p>
    <LostNote :id="id" />
    <p v-if="left" class="quiet">Not drawn: {{ left }}.</p>
    <div class="row">
      <label for="underlay-unit">mm for a unit</label>
      <el-input-number id="underlay-unit" :model-value="a.unit ?? 1" :min="0.000001" :max="1000000" controls-position="right" data-test="underlay-unit" @change="(v) => v && set({ unit: v })" />
    </div>
    <div class="row">
      <label for="underlay-angle">Angle, °</label>
      <el-input-number id="underlay-angle" :model-value="a.angle ?? 0" :min="-360" :max="360" controls-position="right" data-test="underlay-angle" @change="(v) => set({ angle: v ?? 0 })" />
    </div>
    <div class="row">
      <label for="underlay-printed">In files too</label>
      <el-switch id="underlay-printed" :model-value="!!a.printed" data-test="underlay-printed" @change="(v) => set({ printed: v })" />
    </div>
    <el-button data-test="underlay-scale" @click="tools.start('scale_underlay')">Scale by two points</el-button>
    <div v-if="page && page.layers.length > 1" class="section">
      <p class="quiet">Layers</p>
      <label v-for="layer in page.layers" :key="layer" class="layer"><input type="checkbox" :checked="!isOff(layer)" @change="turn(layer)" /> {{ layer }}</label>
    </div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>

<style scoped>
.layer {
  display: block;
  min-height: 26px;
  overflow-wrap: anywhere;
}
</style>
