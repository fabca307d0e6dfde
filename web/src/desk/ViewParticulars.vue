<script setup lang="ts">
// One view: what it shows and at what scale.
import { computed } from 'vue'
import { PLACES, VIEW_KINDS } from '@/words'
import { parsed, STANDARD_SCALES, written } from './scales'
import { useDesk } from './store'
import { useTools } from './tools'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const view = computed(() => desk.view(props.id))
const curves = computed(() => desk.hitOf(props.id)?.geometry.curves.length)
const OWN = "the sheet's"

function rescale(text: string) {
  if (text === OWN) return void desk.edit({ command: 'change_view', view: props.id, sheet_scale: true })
  const scale = parsed(text)
  if (scale) void desk.edit({ command: 'change_view', view: props.id, scale })
  else desk.fail(`${text} is not a scale; write it as 2:1 or 1:5.`)
}
</script>

<template>
  <div v-if="view">
    <h2>{{ VIEW_KINDS[view.kind] }}</h2>
    <p class="quiet sub">{{ view.relation ? `projected, ${PLACES[view.relation]}` : 'stands by itself' }}{{ curves ? ` · ${curves} lines` : '' }}</p>
    <div class="row">
      <label>Scale</label>
      <el-select :model-value="view.scale ? written(view.scale) : OWN" filterable allow-create default-first-option data-test="view-scale" @change="rescale">
        <el-option :value="OWN" />
        <el-option v-for="s in STANDARD_SCALES[desk.document?.profile.standard ?? 'ISO']" :key="s" :value="s" />
      </el-select>
    </div>
    <div class="row">
      <span class="label">Hidden lines</span>
      <el-switch :model-value="view.hidden_lines" data-test="hidden-lines" @change="(v) => desk.edit({ command: 'change_view', view: id, hidden_lines: Boolean(v) })" />
    </div>
    <div class="row">
      <span class="label">Tangent edges</span>
      <el-switch :model-value="view.tangent_edges" data-test="tangent-edges" @change="(v) => desk.edit({ command: 'change_view', view: id, tangent_edges: Boolean(v) })" />
    </div>
    <div class="row">
      <span class="label">Centers</span>
      <el-switch :model-value="view.centers" @change="(v) => desk.edit({ command: 'change_view', view: id, centers: Boolean(v) })" />
    </div>
    <div class="section choices">
      <el-button v-if="view.kind !== 'pictorial'" @click="tools.start('projected')">Project from it</el-button>
      <el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button>
    </div>
  </div>
</template>
