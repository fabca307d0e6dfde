<script setup lang="ts">
// One view: what it shows, at what scale, and what its kind asks for.
import TextField from '@/components/TextField.vue'
import { computed } from 'vue'
import type { Command } from '@/api/client'
import { PLACES, VIEW_KINDS } from '@/words'
import PatternChoice from './PatternChoice.vue'
import { parsed, STANDARD_SCALES, written } from './scales'
import { useDesk } from './store'
import { useTools } from './tools'
import ViewParts from './ViewParts.vue'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const view = computed(() => desk.view(props.id))
const curves = computed(() => desk.hitOf(props.id)?.geometry.curves.length)
const OWN = "the sheet's"
type Change = Omit<Extract<Command, { command: 'change_view' }>, 'command' | 'view'>
const change = (what: Change) => void desk.edit({ command: 'change_view', view: props.id, ...what })
const named = computed(() => ['section', 'detail', 'auxiliary'].includes(view.value?.kind ?? ''))
const stands = computed(() => {
  const v = view.value
  if (!v) return ''
  if (v.relation) return `projected, ${PLACES[v.relation]}`
  if (v.kind === 'detail') return 'of another view'
  return v.parent ? 'square to a line of its parent' : 'stands by itself'
})
const tangent = computed(() => (view.value?.tangent_edges ? (view.value.tangent_thin ? 'thin' : 'as visible') : 'left out'))

function rescale(text: string) {
  if (text === OWN) return change({ sheet_scale: true })
  const scale = parsed(text)
  if (scale) change({ scale })
  else desk.fail(`${text} is not a scale; write it as 2:1 or 1:5.`)
}
function setTangent(how: string) {
  change({ tangent_edges: how !== 'left out', tangent_thin: how !== 'as visible' })
}
function detail(what: object) {
  const d = view.value?.detail
  if (d) void desk.edit({ command: 'change_detail', view: props.id, outline: { ...d, ...what } })
}
const section = (what: object) => void desk.edit({ command: 'change_section', view: props.id, ...what })
</script>

<template>
  <div v-if="view">
    <h2>{{ VIEW_KINDS[view.kind] }}{{ view.letter ? ` ${view.kind === 'section' ? `${view.letter}-${view.letter}` : view.letter}` : '' }}</h2>
    <p class="quiet sub">{{ stands }}{{ curves ? ` · ${curves} lines` : '' }}</p>
    <div class="row">
      <label>Scale</label>
      <el-select :model-value="view.scale ? written(view.scale) : OWN" filterable allow-create default-first-option data-test="view-scale" @change="rescale">
        <el-option :value="OWN" />
        <el-option v-for="s in STANDARD_SCALES[desk.document?.profile.standard ?? 'ISO']" :key="s" :value="s" />
      </el-select>
    </div>
    <div class="row"><span class="label">Hidden lines</span><el-switch :model-value="view.hidden_lines" data-test="hidden-lines" @change="(v) => change({ hidden_lines: Boolean(v) })" /></div>
    <div class="row">
      <label>Tangent edges</label>
      <el-select :model-value="tangent" data-test="tangent-edges" @change="setTangent"><el-option v-for="t in ['left out', 'thin', 'as visible']" :key="t" :value="t" /></el-select>
    </div>
    <div class="row"><span class="label">Threads</span><el-switch :model-value="view.threads" data-test="threads" @change="(v) => change({ threads: Boolean(v) })" /></div>
    <div class="row"><span class="label">Centers</span><el-switch :model-value="view.centers" @change="(v) => change({ centers: Boolean(v) })" /></div>
    <div class="row"><label>Turned by</label><el-input-number :model-value="view.turned" :step="15" :min="-360" :max="360" controls-position="right" data-test="turned" @change="(v) => change({ turned: v ?? 0 })" /></div>
    <div v-if="view.relation || view.fold" class="row"><span class="label">Aligned</span><el-switch :model-value="!view.free" data-test="aligned" @change="(v) => change({ free: !v })" /></div>

    <div v-if="view.section && view.kind === 'section'" class="section">
      <div class="row"><span class="label">Only the cut</span><el-switch :model-value="view.section.only_cut" data-test="only-cut" @change="(v) => section({ only_cut: Boolean(v) })" /></div>
      <div class="row"><span class="label">Cutting line</span><el-switch :model-value="view.section.line.shown" data-test="line-shown" @change="(v) => section({ shown: Boolean(v) })" /></div>
      <div class="row"><span class="label">Seen from</span><el-button size="small" data-test="flip" @click="section({ flip: true })">the other side</el-button></div>
    </div>
    <div v-if="view.section || view.broken_out.length" class="section">
      <PatternChoice plain by-material :pattern="view.hatch_pattern" @update:pattern="(p: string) => change({ hatch_pattern: p })" />
    </div>
    <div v-if="view.detail" class="section">
      <div v-if="view.detail.shape === 'circle'" class="row"><label>Radius</label><el-input-number :model-value="view.detail.radius" :min="0.1" :step="1" controls-position="right" data-test="detail-radius" @change="(v) => v && detail({ radius: v })" /></div>
      <template v-if="view.detail.shape === 'rectangle'">
        <div class="row"><label>Width</label><el-input-number :model-value="view.detail.width" :min="0.1" controls-position="right" @change="(v) => v && detail({ width: v })" /></div>
        <div class="row"><label>Height</label><el-input-number :model-value="view.detail.height" :min="0.1" controls-position="right" @change="(v) => v && detail({ height: v })" /></div>
      </template>
      <div class="row"><span class="label">Border</span><el-switch :model-value="view.detail.border" @change="(v) => detail({ border: Boolean(v) })" /></div>
      <div class="row"><span class="label">Jagged</span><el-switch :model-value="view.detail.jagged" @change="(v) => detail({ jagged: Boolean(v) })" /></div>
      <div class="row"><span class="label">Leader</span><el-switch :model-value="view.detail.leader" @change="(v) => detail({ leader: Boolean(v) })" /></div>
    </div>
    <div v-if="view.auxiliary?.face" class="section row"><span class="label">Only its face</span><el-switch :model-value="view.auxiliary.only_face" data-test="only-face" @change="(v) => desk.edit({ command: 'change_auxiliary', view: id, only_face: Boolean(v) })" /></div>
    <div v-if="view.kind === 'pictorial'" class="section">
      <div class="row">
        <label>Drawn</label>
        <el-select :model-value="view.shading" data-test="shading" @change="(v: 'lines' | 'shaded' | 'shaded_edges') => change({ shading: v })">
          <el-option value="lines" label="in lines" /><el-option value="shaded" label="shaded" /><el-option value="shaded_edges" label="shaded, with edges" />
        </el-select>
      </div>
      <div class="row"><label>Eye, mm away</label><el-input-number :model-value="view.distance ?? undefined" :min="0" :step="100" placeholder="parallel" controls-position="right" data-test="distance" @change="(v) => change({ distance: v ?? 0 })" /></div>
    </div>
    <div v-for="(place, i) in view.broken_out" :key="place.id" class="section">
      <div class="row"><label>Depth {{ i + 1 }}</label><el-input-number :model-value="place.depth" :step="1" controls-position="right" data-test="depth" @change="(v) => desk.edit({ command: 'change_break_out', view: id, id: place.id, depth: v ?? 0 })" /></div>
      <el-button size="small" @click="desk.edit({ command: 'remove_break_out', view: id, id: place.id })">Close this place again</el-button>
    </div>
    <div v-for="(w, i) in view.left_whole" :key="w.id" class="section row"><span class="label">Web {{ i + 1 }}</span><el-button size="small" @click="desk.edit({ command: 'cut_again', view: id, id: w.id })">Cut it after all</el-button></div>
    <div v-for="(b, i) in view.interruptions" :key="i" class="section">
      <div class="row">
        <label>Break {{ i + 1 }}</label>
        <el-select :model-value="b.line" @change="(line: typeof b.line) => change({ interruptions: view!.interruptions.map((x, k) => (k === i ? { ...x, line } : x)) })"><el-option v-for="l in ['freehand', 'zigzag', 'round', 'tube']" :key="l" :value="l" /></el-select>
      </div>
      <div class="row"><label>Gap, mm</label><el-input-number :model-value="b.gap" :min="1" :max="40" controls-position="right" @change="(gap) => gap && change({ interruptions: view!.interruptions.map((x, k) => (k === i ? { ...x, gap } : x)) })" /></div>
      <el-button size="small" data-test="mend" @click="change({ interruptions: view.interruptions.filter((_, k) => k !== i) })">Draw it whole again</el-button>
    </div>
    <div v-for="h in view.hatches" :key="h.id" class="section">
      <PatternChoice :pattern="h.pattern" :angle="h.angle" :spacing="h.spacing" @update:pattern="(pattern: string) => desk.edit({ command: 'hatch_region', view: id, hatch: { ...h, pattern } })" @update:angle="(angle: number) => desk.edit({ command: 'hatch_region', view: id, hatch: { ...h, angle } })" @update:spacing="(spacing: number) => desk.edit({ command: 'hatch_region', view: id, hatch: { ...h, spacing } })" />
      <el-button size="small" @click="desk.edit({ command: 'remove_hatch', view: id, hatch: h.id })">Remove this hatching</el-button>
    </div>
    <div class="section">
      <div v-if="named" class="row"><label>Letter</label><TextField :value="view.letter" maxlength="4" data-test="letter" @change="(letter: string) => change({ letter })" /></div>
      <div class="row"><label>Label</label><TextField :value="view.label.text" placeholder="the standard's words" data-test="label" @change="(text: string) => change({ label: { ...view!.label, text } })" /></div>
      <div class="row"><span class="label">Label shown</span><el-switch :model-value="view.label.shown ?? (named || !!view.scale)" @change="(v) => change({ label: { ...view!.label, shown: Boolean(v) } })" /></div>
    </div>
    <ViewParts :id="id" />
    <div class="section choices">
      <el-button v-if="view.kind !== 'pictorial' && view.kind !== 'detail'" @click="tools.start('projected')">Project from it</el-button>
      <el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button>
    </div>
  </div>
</template>
