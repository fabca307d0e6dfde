<script setup lang="ts">
// Sizes: what they read, their tolerance, their words and number form. Several selected show what they share and change together.
import { computed, ref } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { VIEW_KINDS } from '@/words'
import type { RunTool } from './sizeTools'
import { isSize, type Size } from './sizes'
import { picksOf, viewOf } from './spots'
import LostNote from './LostNote.vue'
import ModelValue from './ModelValue.vue'
import { useDesk } from './store'
import { useTools } from './tools'

const props = defineProps<{ ids: string[] }>()
const desk = useDesk()
const tools = useTools()
const sizes = computed(() => props.ids.flatMap((id) => (isSize(desk.annotation(id)) ? [desk.annotation(id) as Size] : [])))
const first = computed(() => sizes.value[0])
const one = computed(() => (sizes.value.length === 1 ? sizes.value[0] : undefined))
const inks = computed(() => props.ids.flatMap((id) => desk.drawn?.annotations.find((a) => a.id === id) ?? []))
const ink = computed(() => (one.value ? inks.value[0] : undefined))
const wrong = ref('')
const NAMES: Record<Size['kind'], string> = {
  linear: 'Length', diameter: 'Diameter', radius: 'Radius', angle: 'Angle', arc_length: 'Arc length', chamfer: 'Chamfer', ordinate: 'Ordinate',
}
const READINGS: Record<string, string> = { '': 'as picked', nearest: 'nearest', farthest: 'farthest', across: 'diameter', half: 'symmetric half', true: 'true distance' }

type Words = Partial<Schemas['Wording']>
type Tolerance = Size['tolerance']
/** A value where all chosen sizes agree; else undefined. */
function shared<T>(of: (s: Size) => T): T | undefined {
  const values = sizes.value.map(of)
  return values.every((v) => JSON.stringify(v) === JSON.stringify(values[0])) ? values[0] : undefined
}
const says = computed(() => (new Set(inks.value.map((i) => i.says)).size === 1 ? (inks.value[0]?.says ?? '') : ''))
const tolerance = computed(() => shared((s) => s.tolerance))
const angular = computed(() => sizes.value.every((s) => s.kind === 'angle'))

async function change(values: Record<string, unknown>) {
  wrong.value = ''
  const done = await desk.edit({ command: 'change', ids: props.ids, values })
  if (!done && desk.problem) {
    wrong.value = desk.problem
    desk.problem = ''
  }
}
const word = (wording: Words) => void change({ wording })
const tolerate = (more: Partial<Tolerance>) => void change({ tolerance: { ...first.value.tolerance, ...more } })
const FOLLOW = 'as the house style'
const places = computed(() => {
  const p = shared((s) => s.wording.places)
  return p === null ? FOLLOW : p === undefined ? '' : String(p)
})
const setPlaces = (v: string) => word({ places: v === FOLLOW ? null : Number(v) })
const MARKS: [keyof Words & ('reference' | 'basic' | 'not_to_scale' | 'inspection' | 'dual'), string][] = [
  ['reference', 'For reference'], ['basic', 'Basic'], ['inspection', 'Inspected'], ['not_to_scale', 'Not to scale'], ['dual', 'Both units'],
]
function count(v: string) {
  const n = Number(v.replace(/[×xX]/, ''))
  if (!Number.isInteger(n) || n < 1 || n > 9999) wrong.value = 'A count is a whole number from 1 on.'
  else word({ count: n })
}

// ---- the palette: a sign goes into the field that was used last ---------------------------------------------------------
const SIGNS = ['Ø', '□', '±', '°', '×', '⌴', '⌵', '↧', '⌒', 'SØ', 'R', 'SR']
type Field = 'prefix' | 'suffix' | 'above' | 'below'
const field = ref<Field>('prefix')
const FIELDS: [Field, string][] = [['prefix', 'Before'], ['suffix', 'After'], ['above', 'Above'], ['below', 'Below']]
const sign = (s: string) => word({ [field.value]: (shared((z) => z.wording[field.value]) ?? '') + s })

// ---- classes and fits ------------------------------------------------------------------------------------------------------
const CLASSES = ['H7', 'H8', 'H9', 'H11', 'F8', 'G7', 'K7', 'N7', 'P7', 'h6', 'h7', 'h9', 'h11', 'f7', 'g6', 'k6', 'm6', 'n6', 'p6', 's6', 'js6']
const FITS = ['H7/g6', 'H7/h6', 'H8/f7', 'H9/d9', 'H11/c11', 'H7/k6', 'H7/n6', 'H7/p6', 'H7/s6', 'G7/h6', 'F8/h7', 'K7/h6', 'P7/h6', 'S7/h6']
const fit = ref('')
async function askFit() {
  const t = tolerance.value
  fit.value = ''
  if (!t?.mate || !one.value) return
  const hole = t.designation[0] === t.designation[0].toUpperCase() ? t.designation : t.mate
  const shaft = hole === t.designation ? t.mate : t.designation
  try {
    const rows = await data(api.GET('/api/drawings/{drawing_id}/sizes', { params: { path: { drawing_id: desk.drawing!.id } } }))
    const size = rows.find((r) => r.id === props.ids[0])?.nominal
    if (!size) return
    const f = await data(api.GET('/api/drawings/tools/fit', { params: { query: { size, hole, shaft } } }))
    const inch = desk.document?.profile.units === 'in'
    const n = (v: number) => (inch ? (v / 25.4).toFixed(5) : v.toFixed(3))
    fit.value = `${f.kind} fit: ${f.least < 0 ? `interference up to ${n(-f.least)}` : `clearance from ${n(f.least)}`}${f.most < 0 ? `, at least ${n(-f.most)}` : ` ${f.least < 0 ? ', clearance up to' : 'to'} ${n(f.most)}`} ${inch ? 'in' : 'mm'}`
  } catch (error) {
    fit.value = (error as Error).message
  }
}
async function say(text: string) {
  await change({ says: text })
  await askFit()
}
void askFit()

function takeOut() {
  if (one.value?.run) void desk.edit({ command: 'change_run', run: one.value.run, remove: [one.value.id] })
}
</script>

<template>
  <div v-if="first">
    <h2>{{ one ? (one.kind === 'linear' && one.reading === 'across' ? 'Diameter' : NAMES[first.kind]) : `${sizes.length} sizes` }}</h2>
    <p v-if="one" class="quiet sub">measured on the model, in the {{ VIEW_KINDS[desk.view(viewOf(first))?.kind ?? 'main'].toLowerCase() }}</p>
    <p v-else class="quiet sub">what is changed here is changed on all of them</p>
    <LostNote v-if="one && ink?.lost" :id="one.id" />
    <div v-else-if="ink" class="said" data-test="size-text">{{ ink.text }}</div>
    <p v-if="ink?.follows?.length" class="attention" data-test="follows">Follows from {{ ink.follows.length === 1 ? 'another size' : `a chain of ${ink.follows.length} sizes` }} (lit on the sheet); make it reference or remove one.</p>
    <p v-if="ink?.foreshortened" class="quiet sub">The view shows this foreshortened; the size is its true length.</p>
    <p v-if="one?.wording.own" class="attention">Own words stand in place of the measured value.</p>

    <div class="row">
      <label for="size-tolerance">Tolerance</label>
      <span>
        <TextField id="size-tolerance" :value="says" list="tolerance-words" placeholder="±0.1, +0.2/-0.1, H7 …" data-test="tolerance" @change="say" />
        <datalist id="tolerance-words">
          <template v-if="!angular"><option v-for="c in [...CLASSES, ...FITS]" :key="c" :value="c" /></template><option value="min" /><option value="max" />
        </datalist>
      </span>
    </div>
    <p v-if="wrong" class="fault-note" role="alert" data-test="size-problem">{{ wrong }}</p>
    <p v-if="ink?.applies" class="quiet sub" data-test="applies">holds: {{ ink.applies }}</p>
    <p v-if="fit" class="quiet sub" data-test="fit">{{ fit }}</p>
    <template v-if="tolerance && tolerance.form !== 'none'">
      <div v-if="tolerance.form === 'class'" class="row">
        <label>Shown as</label>
        <el-select :model-value="tolerance.shown" data-test="shown" @change="(v: Tolerance['shown']) => tolerate({ shown: v })">
          <el-option value="class" /><el-option value="deviations" /><el-option value="both" /><el-option value="limits" />
        </el-select>
      </div>
      <div v-if="['unequal', 'limits', 'class'].includes(tolerance.form)" class="checks">
        <el-checkbox :model-value="tolerance.stacked" data-test="stacked" @change="tolerate({ stacked: !tolerance.stacked })">one above the other</el-checkbox>
        <el-checkbox v-if="tolerance.form !== 'limits'" :model-value="tolerance.zero" data-test="zero" @change="tolerate({ zero: !tolerance.zero })">zero side written</el-checkbox>
      </div>
    </template>

    <ModelValue v-if="one" :id="one.id" :key="one.id" :angular="angular" />
    <div class="section">
      <div class="row"><label>Count</label><TextField :value="String(shared((s) => s.wording.count) ?? '')" data-test="count" @change="count" /></div>
      <div v-for="[key, name] in FIELDS" :key="key" class="row">
        <label>{{ name }}</label><TextField :value="shared((s) => s.wording[key]) ?? ''" :data-test="`word-${key}`" @focusin="field = key" @change="(v) => word({ [key]: v })" />
      </div>
      <div class="signs" aria-label="Signs"><button v-for="s in SIGNS" :key="s" :title="`${s} into the field ${FIELDS.find((f) => f[0] === field)?.[1]}`" @click="sign(s)">{{ s }}</button></div>
      <div class="row"><label>Envelope</label><el-select :model-value="shared((s) => s.wording.envelope) ?? ''" data-test="envelope" @change="(v: '' | 'E' | 'I') => word({ envelope: v })"><el-option value="" label="as the standard has it" /><el-option value="E" label="required, Ⓔ" /><el-option value="I" label="independent, Ⓘ" /></el-select></div>
      <div class="row"><label>In its place</label><TextField :value="shared((s) => s.wording.own) ?? ''" placeholder="own words" data-test="word-own" @change="(v) => word({ own: v })" /></div>
      <div class="checks">
        <el-checkbox v-for="[key, name] in MARKS" :key="key" :model-value="shared((s) => s.wording[key]) ?? false" :data-test="`mark-${key}`" @change="word({ [key]: !(shared((s) => s.wording[key]) ?? false) })">{{ name }}</el-checkbox>
      </div>
    </div>

    <div class="section">
      <div class="row">
        <label>Places</label>
        <el-select :model-value="places" data-test="places" @change="setPlaces">
          <el-option :value="FOLLOW" /><el-option v-for="n in ['0', '1', '2', '3', '4']" :key="n" :value="n" />
        </el-select>
      </div>
      <div v-if="!angular" class="row">
        <label>Unit</label>
        <el-select :model-value="shared((s) => s.wording.unit) ?? ''" @change="(v: '' | 'mm' | 'in') => word({ unit: v })"><el-option value="" :label="FOLLOW" /><el-option value="mm" /><el-option value="in" /></el-select>
      </div>
      <div v-if="!angular" class="row">
        <label>Fractions</label>
        <el-select :model-value="shared((s) => s.wording.fraction) ?? -1" @change="(v: number) => word({ fraction: v < 0 ? null : (v as 0) })">
          <el-option :value="-1" :label="FOLLOW" /><el-option :value="0" label="decimals" /><el-option v-for="n in [4, 8, 16, 32, 64]" :key="n" :value="n" :label="`inches by 1/${n}`" />
        </el-select>
      </div>
      <div v-else class="row">
        <label>Degrees</label>
        <el-select :model-value="shared((s) => s.wording.angle_form) ?? ''" @change="(v: '' | 'decimal' | 'minutes') => word({ angle_form: v })"><el-option value="" :label="FOLLOW" /><el-option value="decimal" /><el-option value="minutes" /></el-select>
      </div>
      <div v-if="one?.kind === 'linear'" class="row">
        <label>Direction</label>
        <el-select :model-value="one.direction" @change="(d: 'aligned' | 'horizontal' | 'vertical') => change({ direction: d })">
          <el-option value="aligned" /><el-option value="horizontal" /><el-option value="vertical" />
        </el-select>
      </div>
      <div v-if="one?.kind === 'linear' && one.reading" class="row"><span class="label">Reads</span><span>{{ READINGS[one.reading] }}</span></div>
      <div v-if="one?.kind === 'radius'" class="checks"><el-checkbox :model-value="one.jogged" @change="change({ jogged: !one.jogged })">Jogged, its center is far off</el-checkbox></div>
      <div class="row">
        <label>Arrows</label>
        <el-select :model-value="shared((s) => s.arrows) ?? ''" @change="(v: 'fit' | 'in' | 'out') => change({ arrows: v })"><el-option value="fit" label="by the room there is" /><el-option value="in" label="inside" /><el-option value="out" label="outside" /></el-select>
      </div>
      <div class="checks"><el-checkbox :model-value="shared((s) => s.breaks) ?? false" @change="change({ breaks: !(shared((s) => s.breaks) ?? false) })">Breaks where it crosses others</el-checkbox></div>
    </div>

    <div v-if="one?.run" class="section">
      <p class="quiet sub">one of a {{ one.run_form }} run</p>
      <div class="choices">
        <el-button data-test="run-add" @click="tools.grow(one.run, one.run_form as RunTool)">Add to the run</el-button>
        <el-button data-test="run-out" @click="takeOut">Take it out</el-button>
      </div>
    </div>
    <div v-if="one" class="row"><span class="label">Taken on</span><span>{{ [...new Set(picksOf(one).map((p) => p.source.split('/')[0]))].join(', ') }}</span></div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>

<style scoped>
.checks {
  display: grid;
  gap: 0;
  margin: 4px 0;
}
.checks :deep(.el-checkbox) {
  height: 26px;
}
.signs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 4px 0 6px 92px;
}
.signs button {
  font: 15px 'osifont';
  min-width: 26px;
  height: 24px;
  border: 1px solid var(--line);
  border-radius: 6px;
}
.signs button:hover {
  background: var(--accent-ground);
}
.attention {
  color: var(--attention, #8a5e06);
  margin: 2px 0 8px;
}
</style>
