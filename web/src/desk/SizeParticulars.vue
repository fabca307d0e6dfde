<script setup lang="ts">
// One size: what it reads, how it was measured, and its number form.
import { computed } from 'vue'
import { VIEW_KINDS } from '@/words'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const size = computed(() => {
  const a = desk.annotation(props.id)
  return a && (a.kind === 'linear' || a.kind === 'diameter') ? a : undefined
})
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const FOLLOW = 'as needed'
const places = computed(() => (size.value?.places === null || size.value?.places === undefined ? FOLLOW : String(size.value.places)))

function setPlaces(v: string) {
  void desk.edit(v === FOLLOW ? { command: 'change_annotation', id: props.id, default_places: true } : { command: 'change_annotation', id: props.id, places: Number(v) })
}
</script>

<template>
  <div v-if="size">
    <h2>{{ size.kind === 'diameter' ? 'Diameter' : 'Length' }}</h2>
    <p class="quiet sub">measured on the model, in the {{ VIEW_KINDS[desk.view(size.view)?.kind ?? 'main'].toLowerCase() }}</p>
    <p v-if="ink?.lost" class="fault-note">{{ ink.lost }}</p>
    <div v-else class="said" data-test="size-text">{{ ink?.text }}</div>
    <div class="row">
      <label>Places</label>
      <el-select :model-value="places" data-test="places" @change="setPlaces">
        <el-option :value="FOLLOW" />
        <el-option v-for="n in ['0', '1', '2', '3', '4']" :key="n" :value="n" />
      </el-select>
    </div>
    <div v-if="size.kind === 'linear'" class="row">
      <label>Direction</label>
      <el-select :model-value="size.direction" @change="(d: 'aligned' | 'horizontal' | 'vertical') => desk.edit({ command: 'change_annotation', id, direction: d })">
        <el-option value="aligned" /><el-option value="horizontal" /><el-option value="vertical" />
      </el-select>
    </div>
    <div class="row"><span class="label">Taken on</span><span>{{ size.picks.map((p) => p.source.split('/')[0]).join(', ') }}</span></div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>
