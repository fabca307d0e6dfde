<script setup lang="ts">
// A frame drawn to scale: border, zones, marks, view slots, and a title block whose cells are chosen, merged, split and filled.
import TextField from '@/components/TextField.vue'
import { computed, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'

type Style = Schemas['HouseStyle']
type Frame = Style['frames'][number]
type Cell = Frame['block']['cells'] extends (infer C)[] | undefined ? C : never
const style = defineModel<Style>('style', { required: true })
const props = defineProps<{ fixed: boolean; fields: Record<string, string> }>()
const emit = defineEmits<{ logo: [file: File] }>()
const name = ref(style.value.frame || style.value.frames[0].name)
const size = ref(style.value.profile.standard === 'ASME' ? 'B' : 'A3')
const landscape = ref(true)
const drawn = ref<Schemas['FrameDrawn']>()
const picked = ref<number[]>([])
const problem = ref('')
const whole = ref(false)
let asked = 0

const frame = computed<Frame>(() => style.value.frames.find((f) => f.name === name.value) ?? style.value.frames[0])
const block = computed(() => frame.value.block)
const cells = computed(() => (block.value.cells ?? []) as Cell[])
const cell = computed(() => (picked.value.length === 1 ? cells.value[picked.value[0]] : null))
const kind = computed(() => (!cell.value ? '' : cell.value.logo ? 'logo' : cell.value.field?.startsWith('own:') ? 'own' : cell.value.field ? 'field' : 'text'))
const cut = computed(() => drawn.value?.cells.filter((c) => c.cut).map((c) => cells.value[c.index]?.label || c.value) ?? [])

async function draw() {
  const mine = ++asked
  try {
    const answer = await data(api.POST('/api/styles/tools/frame', { body: { style: style.value as never, frame: name.value, size: size.value, landscape: landscape.value } }))
    if (mine === asked) {
      drawn.value = answer
      problem.value = ''
    }
  } catch (error) {
    if (mine === asked) problem.value = (error as Error).message
  }
}
watch([style, name, size, landscape], draw, { immediate: true, deep: true })
watch(name, () => (picked.value = []))
watch(
  () => style.value.frames.map((f) => f.name),
  (names) => !names.includes(name.value) && (name.value = names[0]),
)

function change(what: Partial<Frame>) {
  style.value = { ...style.value, frames: style.value.frames.map((f) => (f === frame.value ? { ...f, ...what } : f)) }
}
function changeCell(what: Partial<Cell>) {
  const at = picked.value[0]
  change({ block: { ...block.value, cells: cells.value.map((c, i) => (i === at ? { ...c, ...what } : c)) } })
}
function fill(how: string) {
  const blank = { field: '', text: '', logo: false }
  if (how === 'logo') changeCell({ ...blank, logo: true, label: '' })
  else if (how === 'own') changeCell({ ...blank, field: 'own:Field', label: 'Field' })
  else if (how === 'field') changeCell({ ...blank, field: 'title', label: props.fields.title })
  else changeCell({ ...blank, text: 'Text' })
}
async function edit(way: 'merge' | 'columns' | 'rows') {
  try {
    const answer = await data(api.POST('/api/styles/tools/block', { body: { block: block.value, cells: picked.value, way } }))
    change({ block: answer })
    picked.value = picked.value.slice(0, 1).filter((i) => i < (answer.cells?.length ?? 0))
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  }
}
function pick(index: number, more: boolean) {
  if (!more) picked.value = picked.value.length === 1 && picked.value[0] === index ? [] : [index]
  else picked.value = picked.value.includes(index) ? picked.value.filter((i) => i !== index) : [...picked.value, index].slice(-2)
}
function sized(way: 'columns' | 'rows', i: number, v: number | undefined) {
  if (v) change({ block: { ...block.value, [way]: block.value[way].map((o, k) => (k === i ? v : o)) } })
}
const lines = computed(() => {
  const c = cell.value
  if (!c) return []
  const columns = block.value.columns.map((v, i) => ({ way: 'columns' as const, i, v })).slice(c.column, c.column + (c.columns ?? 1))
  const rows = block.value.rows.map((v, i) => ({ way: 'rows' as const, i, v })).slice(c.row, c.row + (c.rows ?? 1))
  return [...columns, ...rows]
})
function copyFrame() {
  const names = style.value.frames.map((f) => f.name)
  const fresh = [`${frame.value.name}, copy`, ...Array.from({ length: 50 }, (_, i) => `${frame.value.name}, copy ${i + 2}`)].find((n) => !names.includes(n))!
  style.value = { ...style.value, frames: [...style.value.frames, { ...structuredClone(JSON.parse(JSON.stringify(frame.value))), name: fresh }] }
  name.value = fresh
}
function rename(text: string) {
  const fresh = text.trim()
  if (!fresh || style.value.frames.some((f) => f.name === fresh)) return
  const old = frame.value.name
  style.value = { ...style.value, frame: style.value.frame === old ? fresh : style.value.frame, frames: style.value.frames.map((f) => (f.name === old ? { ...f, name: fresh } : f)) }
  name.value = fresh
}
function removeFrame() {
  const old = frame.value.name
  style.value = { ...style.value, frame: style.value.frame === old ? '' : style.value.frame, frames: style.value.frames.filter((f) => f.name !== old) }
  name.value = style.value.frames[0].name
}
const SLOTS = ['main', 'above', 'below', 'left', 'right', 'pictorial'] as const
function addSlot() {
  const shows = SLOTS.find((s) => !(frame.value.slots ?? []).some((o) => o.shows === s)) ?? 'pictorial'
  change({ slots: [...(frame.value.slots ?? []), { name: shows, shows, left: 0.05, bottom: 0.5, right: 0.45, top: 0.95 }] })
}
function changeSlot(i: number, what: object) {
  change({ slots: (frame.value.slots ?? []).map((s, k) => (k === i ? { ...s, ...what } : s)) })
}
const box = computed(() => {
  const d = drawn.value
  if (!d) return '0 0 10 10'
  if (whole.value || !d.cells.length) return `-4 -4 ${d.width + 8} ${d.height + 8}`
  const left = Math.min(...d.cells.map((c) => c.left))
  const top = Math.max(...d.cells.map((c) => c.bottom + c.height))
  const low = Math.min(...d.cells.map((c) => c.bottom))
  const right = Math.max(...d.cells.map((c) => c.left + c.width))
  return `${left - 8} ${d.height - top - 8} ${right - left + 24} ${top - low + 24}`
})
const slotBox = (s: { left: number; bottom: number; right: number; top: number }) => {
  const [x0, y0, x1, y1] = drawn.value!.room
  return { x: x0 + s.left * (x1 - x0), y: drawn.value!.height - y0 - s.top * (y1 - y0), width: (s.right - s.left) * (x1 - x0), height: (s.top - s.bottom) * (y1 - y0) }
}
function chosenFile(event: Event) {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) emit('logo', input.files[0])
  input.value = ''
}
</script>

<template>
  <div class="editor">
    <div class="stage">
      <div class="bar">
        <el-select v-model="name" class="frames" data-test="frame-choice" aria-label="Frame"><el-option v-for="f in style.frames" :key="f.name" :value="f.name" /></el-select>
        <el-button data-test="copy-frame" :disabled="fixed" @click="copyFrame">Copy it</el-button>
        <el-select v-model="size" class="size" aria-label="Sheet size"><el-option v-for="s in style.profile.standard === 'ASME' ? ['A', 'B', 'C', 'D', 'E', 'F'] : ['A4', 'A3', 'A2', 'A1', 'A0']" :key="s" :value="s" /></el-select>
        <el-radio-group v-model="landscape" size="small"><el-radio-button :value="true">landscape</el-radio-button><el-radio-button :value="false">portrait</el-radio-button></el-radio-group>
        <el-radio-group v-model="whole" size="small" data-test="whole"><el-radio-button :value="false">title block</el-radio-button><el-radio-button :value="true">whole sheet</el-radio-button></el-radio-group>
      </div>
      <p v-if="problem" class="fault-note" role="alert" data-test="frame-problem">{{ problem }}</p>
      <p v-else-if="cut.length" class="attention-note">Does not fit its cell: {{ cut.join(', ') }}.</p>
      <svg v-if="drawn" class="paper" :viewBox="box" data-test="frame-paper">
        <rect class="sheet" :width="drawn.width" :height="drawn.height" />
        <g :transform="`translate(0 ${drawn.height})`" v-html="drawn.svg" />
        <g v-if="whole"><g v-for="s in frame.slots ?? []" :key="s.name + s.shows"><rect class="slot" v-bind="slotBox(s)" /><text class="slot-name" :x="slotBox(s).x + 3" :y="slotBox(s).y + 8">{{ s.name }}</text></g></g>
        <rect
          v-for="c in drawn.cells" :key="c.index" class="cell" :class="{ on: picked.includes(c.index) }" :x="c.left" :y="drawn.height - c.bottom - c.height" :width="c.width" :height="c.height" tabindex="0"
          :aria-label="cells[c.index]?.label || fields[cells[c.index]?.field ?? ''] || c.value || (cells[c.index]?.logo ? 'logo' : 'empty cell')" :data-test="`cell-${c.index}`" @click="pick(c.index, $event.shiftKey)" @keydown.enter="pick(c.index, $event.shiftKey)"
        />
      </svg>
      <p class="quiet">Click a cell to fill it; Shift and a click on a second one beside it, then merge.</p>
    </div>
    <aside>
      <template v-if="cell && drawn">
        <h2>Cell</h2>
        <div class="row"><label>Shows</label>
          <el-select :model-value="kind" :disabled="fixed" data-test="cell-kind" @change="fill"><el-option value="field" label="a field" /><el-option value="own" label="a part's own field" /><el-option value="text" label="fixed text" /><el-option value="logo" label="the logo" /></el-select>
        </div>
        <div v-if="kind === 'field'" class="row"><label>Field</label>
          <el-select :model-value="cell.field" filterable :disabled="fixed" data-test="cell-field" @change="(f: string) => changeCell({ field: f, label: f === 'projection' ? '' : fields[f] })"><el-option v-for="(label, f) in fields" :key="f" :value="f" :label="f.endsWith('_date') ? `${label} (${f.replace('_date', '')})` : label" /></el-select>
        </div>
        <div v-if="kind === 'own'" class="row"><label>Its name</label><TextField :value="cell.field?.slice(4) ?? ''" :disabled="fixed" maxlength="60" data-test="cell-own" @change="(t: string) => t.trim() && changeCell({ field: `own:${t.trim()}`, label: t.trim() })" /></div>
        <div v-if="kind === 'text'" class="row"><label>Text</label><TextField :value="cell.text ?? ''" :disabled="fixed" maxlength="400" data-test="cell-text" @change="(text: string) => changeCell({ text })" /></div>
        <div v-if="kind === 'logo'" class="row"><label>Logo</label><label class="bring">{{ style.logo ? 'another PNG or SVG …' : 'bring a PNG or SVG …' }}<input type="file" accept=".png,.svg,image/png,image/svg+xml" :disabled="fixed" data-test="logo-file" @change="chosenFile" /></label></div>
        <div v-else class="row"><label>Label</label><TextField :value="cell.label ?? ''" :disabled="fixed" maxlength="60" data-test="cell-label" @change="(label: string) => changeCell({ label })" /></div>
        <div v-if="kind !== 'logo'" class="row"><label>Lettering, mm</label><el-input-number :model-value="cell.height" :min="1.5" :max="20" :step="0.5" :disabled="fixed" controls-position="right" @change="(h) => h && changeCell({ height: h })" /></div>
        <div v-for="l in lines" :key="l.way + l.i" class="row"><label>{{ l.way === 'columns' ? 'Width' : 'Height' }}, mm</label><el-input-number :model-value="l.v" :min="2" :max="300" :step="1" :disabled="fixed" controls-position="right" @change="(v) => sized(l.way, l.i, v)" /></div>
        <div class="buttons"><el-button :disabled="fixed" data-test="split-columns" @click="edit('columns')">Split side by side</el-button><el-button :disabled="fixed" data-test="split-rows" @click="edit('rows')">Split one over the other</el-button></div>
      </template>
      <template v-else-if="picked.length === 2">
        <h2>2 cells</h2>
        <el-button :disabled="fixed" data-test="merge-cells" @click="edit('merge')">Make one of them</el-button>
      </template>
      <template v-else>
        <h2>{{ frame.name }}</h2>
        <div class="row"><label>Name</label><TextField :value="frame.name" :disabled="fixed" maxlength="120" @change="rename" /></div>
        <div class="row"><label>Zones</label><el-select :model-value="frame.zones ?? 'iso'" :disabled="fixed" data-test="zones" @change="(zones: Frame['zones']) => change({ zones })"><el-option value="none" label="off" /><el-option value="iso" label="after ISO 5457" /><el-option value="asme" label="after ASME Y14.1" /></el-select></div>
        <div class="row"><label>Centering marks</label><el-switch :model-value="frame.centering ?? true" :disabled="fixed" @change="(v) => change({ centering: Boolean(v) })" /></div>
        <div class="row"><label>Trimming marks</label><el-switch :model-value="frame.trimming ?? false" :disabled="fixed" @change="(v) => change({ trimming: Boolean(v) })" /></div>
        <div class="row"><label>Margin left, mm</label><el-input-number :model-value="frame.margin_left ?? undefined" :min="0" :max="100" placeholder="of the size" :disabled="fixed" controls-position="right" @change="(v) => change({ margin_left: v ?? null })" /></div>
        <div class="row"><label>Margin else, mm</label><el-input-number :model-value="frame.margin ?? undefined" :min="0" :max="100" placeholder="of the size" :disabled="fixed" controls-position="right" @change="(v) => change({ margin: v ?? null })" /></div>
        <div class="row"><label>For new sheets</label><el-switch :model-value="(style.frame || style.frames[0].name) === frame.name" :disabled="fixed" @change="style = { ...style, frame: frame.name }" /></div>
        <h2>View slots</h2>
        <p class="quiet">A new drawing places its views in them by itself. Whole sheet shows them.</p>
        <div v-for="(s, i) in frame.slots ?? []" :key="i" class="slot-row">
          <el-select :model-value="s.shows" :disabled="fixed" @change="(v: string) => changeSlot(i, { shows: v, name: v })"><el-option v-for="o in SLOTS" :key="o" :value="o" /></el-select>
          <input v-for="side in ['left', 'bottom', 'right', 'top'] as const" :key="side" type="number" min="0" max="100" :title="`${side}, % of the room`" :aria-label="`${side}, % of the room`" :value="Math.round(s[side] * 100)" :disabled="fixed" @change="changeSlot(i, { [side]: Math.min(Math.max(Number(($event.target as HTMLInputElement).value) / 100, 0), 1) })" />
          <button :disabled="fixed" :aria-label="`Remove slot ${s.name}`" @click="change({ slots: (frame.slots ?? []).filter((_, k) => k !== i) })">×</button>
        </div>
        <div class="buttons"><el-button :disabled="fixed" data-test="add-slot" @click="(addSlot(), (whole = true))">Add a slot</el-button><el-button v-if="style.frames.length > 1" :disabled="fixed" @click="removeFrame">Remove this frame</el-button></div>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  grid-template-columns: 1fr 296px;
  min-height: 0;
  height: 100%;
}
.stage {
  padding: 12px 24px;
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
}
.bar {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.frames {
  width: 200px;
}
.size {
  width: 76px;
}
.paper {
  flex: 1;
  min-height: 0;
  width: 100%;
}
.sheet {
  fill: var(--paper);
}
.paper :deep(path.stroke) {
  fill: none;
  stroke: var(--ink);
}
.paper :deep(path.fill),
.paper :deep(text) {
  fill: var(--ink);
  font-family: 'osifont', 'DejaVu Sans';
  white-space: pre;
}
.cell {
  fill: transparent;
  cursor: pointer;
}
.cell:hover,
.cell:focus-visible {
  fill: #b497d6;
  fill-opacity: 0.25;
  outline: none;
}
.cell.on {
  fill: #6a4c93;
  fill-opacity: 0.2;
  stroke: #6a4c93;
  stroke-width: 0.6;
}
.slot {
  fill: #6a4c93;
  fill-opacity: 0.06;
  stroke: #6a4c93;
  stroke-width: 0.5;
  stroke-dasharray: 3 2;
}
.paper .slot-name {
  font-family: 'Source Sans 3', sans-serif;
  font-size: 7px;
  fill: #6a4c93;
}
aside {
  background: var(--panel);
  border-left: 1px solid var(--line);
  padding: 12px 16px;
  overflow: auto;
}
h2 {
  margin: 8px 0 4px;
}
.row {
  display: grid;
  grid-template-columns: 104px 1fr;
  align-items: center;
  min-height: 38px;
}
.row > label:first-child {
  color: var(--quiet);
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 8px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
.bring {
  text-decoration: underline;
  cursor: pointer;
}
.bring input {
  display: none;
}
.slot-row {
  display: grid;
  grid-template-columns: 92px repeat(4, 1fr) 20px;
  gap: 4px;
  margin-bottom: 6px;
}
.slot-row input {
  width: 100%;
  font: inherit;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--field);
  color: inherit;
  padding: 0 2px;
}
</style>
