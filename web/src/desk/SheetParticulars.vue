<script setup lang="ts">
// The sheet and its title block.
import TextField from '@/components/TextField.vue'
import GeneralNotes from './GeneralNotes.vue'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, type Sheet } from '@/api/client'
import { useDesk } from './store'
import { parsed, STANDARD_SCALES, written } from './scales'

const desk = useDesk()
const sheet = computed(() => desk.sheet!)
const sizes = computed(() => (desk.document?.profile.standard === 'ASME' ? ['A', 'B', 'C', 'D', 'E', 'F'] : ['A4', 'A3', 'A2', 'A1', 'A0']))
const FIELDS: [string, string][] = [
  ['title', 'Title'], ['number', 'Number'], ['material', 'Material'], ['finish', 'Finish'], ['owner', 'Owner'], ['drawn_by', 'Drawn by'], ['date', 'Date'], ['revision', 'Revision'],
  ['checked_by', 'Checked by'], ['checked_date', 'on'], ['approved_by', 'Approved by'], ['approved_date', 'on'], ['tolerance', 'Tolerances'],
]
const LINKED = ['title', 'number', 'material', 'finish']
const cut = computed(() => desk.drawn?.cells.filter((c) => c.cut).map((c) => c.label) ?? [])
const frames = shallowRef<Frame[]>([])
type Frame = NonNullable<Sheet['frame']>
const behind = ref(false)
/** The frames of the drawing's house style, for other sheets. */
watch(
  () => desk.document?.style,
  async (key) => {
    if (!key) return
    const page = await data(api.GET('/api/styles/{key}', { params: { path: { key } } })).catch(() => null)
    frames.value = (page?.style.frames ?? []) as Frame[]
    behind.value = page?.drawings.find((d) => d.id === desk.drawing?.id)?.behind ?? false
  },
  { immediate: true },
)
const value = (name: string) => (desk.document?.fields as Record<string, string> | undefined)?.[name] ?? ''
const blank = (name: string) => desk.drawn?.blank_fields.includes(name) ?? false

function rescale(text: string) {
  const scale = parsed(text)
  if (scale) void desk.edit({ command: 'change_sheet', sheet: sheet.value.id, scale })
  else desk.fail(`${text} is not a scale; write it as 2:1 or 1:5.`)
}
</script>

<template>
  <div v-if="desk.sheet">
    <h2>{{ sheet.name || 'Sheet' }}</h2>
    <p class="quiet sub"><RouterLink :to="{ name: 'styles', params: { id: desk.document?.style || undefined } }">{{ desk.document?.profile.title }}</RouterLink></p>
    <div class="row">
      <label>Size</label>
      <el-select :model-value="sheet.size" filterable allow-create default-first-option data-test="sheet-size" title="A standard size, or one of your own in mm as 600 x 300" @change="(s: string) => desk.edit({ command: 'change_sheet', sheet: sheet.id, size: s })">
        <el-option v-for="s in sizes" :key="s" :value="s" />
      </el-select>
    </div>
    <div class="row">
      <span class="label">Turned</span>
      <el-radio-group :model-value="sheet.landscape" size="small" @change="(v) => desk.edit({ command: 'change_sheet', sheet: sheet.id, landscape: Boolean(v) })">
        <el-radio-button :value="true">landscape</el-radio-button>
        <el-radio-button :value="false">portrait</el-radio-button>
      </el-radio-group>
    </div>
    <div class="row">
      <label>Scale</label>
      <el-select :model-value="written(sheet.scale)" filterable allow-create default-first-option data-test="sheet-scale" @change="rescale">
        <el-option v-for="s in STANDARD_SCALES[desk.document?.profile.standard ?? 'ISO']" :key="s" :value="s" />
      </el-select>
    </div>
    <div class="row">
      <span class="label">Projection</span>
      <el-radio-group :model-value="desk.document?.projection" size="small" data-test="projection" @change="(v) => desk.edit({ command: 'switch_projection', projection: v as 'first' | 'third' })">
        <el-radio-button value="first">first</el-radio-button>
        <el-radio-button value="third">third angle</el-radio-button>
      </el-radio-group>
    </div>
    <div class="row">
      <label>Grid, mm</label>
      <el-input-number :model-value="sheet.grid ?? 0" :min="0" :max="100" :step="5" controls-position="right" data-test="grid-spacing" @change="(v) => desk.edit({ command: 'change_sheet', sheet: sheet.id, grid: v ?? 0 })" />
    </div>
    <div v-if="frames.length > 1" class="row">
      <label>Frame</label>
      <el-select :model-value="sheet.frame?.name ?? ''" data-test="sheet-frame" @change="(n: string) => desk.edit({ command: 'change_frame', sheet: sheet.id, frame: frames.find((f) => f.name === n)! })"><el-option v-for="f in frames" :key="f.name" :value="f.name" /></el-select>
    </div>
    <p v-if="behind" class="attention-note">The house style has changed since. <RouterLink :to="{ name: 'styles', params: { id: desk.document!.style } }">Bring the drawing along</RouterLink>.</p>
    <div class="section">
      <h2>Title block</h2>
      <p v-if="cut.length" class="attention-note">Does not fit its cell: {{ cut.join(', ') }}.</p>
      <div v-for="[name, label] in FIELDS" :key="name" class="row">
        <label :for="`field-${name}`">{{ label }}</label>
        <TextField :id="`field-${name}`" class="field" :class="{ blank: blank(name) }" :value="value(name)" :placeholder="blank(name) ? 'blank' : LINKED.includes(name) ? 'from the model' : 'none'" maxlength="400" @change="(text) => desk.edit({ command: 'change_fields', fields: { [name]: text } })" @keydown.enter="($event.target as HTMLElement).blur()" />
      </div>
      <p v-if="blank('mass')" class="attention-note">The mass is not known: a part has no material with a known density. <RouterLink :to="{ name: 'model', params: { id: desk.drawing!.model } }">Say it at the model</RouterLink>.</p>
    </div>
    <div class="section">
      <h2>General notes</h2>
      <GeneralNotes />
    </div>
  </div>
</template>

<style scoped>
.field.blank {
  border-color: #c78a12;
}
h2 {
  margin-bottom: 4px;
}
.attention-note a {
  text-decoration: underline;
}
</style>
