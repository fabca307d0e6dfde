<script setup lang="ts">
// One center: what it is on, how far its ends reach, and carrying it to the aligned views.
import { computed } from 'vue'
import { VIEW_KINDS } from '@/words'
import { picksOf, viewOf } from './spots'
import LostNote from './LostNote.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const center = computed(() => {
  const a = desk.annotation(props.id)
  return a && (a.kind === 'center_mark' || a.kind === 'center_line' || a.kind === 'bolt_circle') ? a : null
})
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const NAMES = { center_mark: 'Center mark', center_line: 'Center line', bolt_circle: 'Bolt circle' }
const ends = computed(() => {
  if (center.value?.kind === 'center_mark') return ['Right', 'Up', 'Left', 'Down']
  return ink.value?.handles?.length ? ['First end', 'Last end'] : []
})
const picks = computed(() => (center.value ? picksOf(center.value) : []))
const on = computed(() => [...new Set(picks.value.map((p) => p.source.split('/')[0]))].join(', '))
</script>

<template>
  <div v-if="center">
    <h2>{{ NAMES[center.kind] }}</h2>
    <p class="quiet sub">in the {{ VIEW_KINDS[desk.view(viewOf(center))?.kind ?? 'main'].toLowerCase() }}{{ picks.length > 1 ? `, on ${picks.length} places` : '' }}</p>
    <LostNote :id="id" />
    <div v-if="on" class="row"><span class="label">Put on</span><span>{{ on }}</span></div>
    <div v-for="(name, i) in ends" :key="name" class="row">
      <label>{{ name }}, mm</label>
      <el-input-number :model-value="center.past[i] ?? undefined" :step="0.5" :min="-50" :max="200" controls-position="right" placeholder="standard" :data-test="`past-${i}`" @change="(v) => desk.edit({ command: 'change', ids: [id], values: { end: i, past: v ?? null } })" />
    </div>
    <div class="section choices">
      <el-button v-if="picks.length" data-test="carry" @click="desk.edit({ command: 'carry_centers', ids: [id] })">Carry to aligned views</el-button>
      <el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button>
    </div>
  </div>
</template>
