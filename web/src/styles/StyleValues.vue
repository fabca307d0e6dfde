<script setup lang="ts">
// Every value of a house style beside the standard's own, and whether it departs from it.
import TextField from '@/components/TextField.vue'
import { computed, onMounted, ref } from 'vue'
import { api, data, type Schemas } from '@/api/client'

type Profile = Schemas['Profile']
const profile = defineModel<Profile>('profile', { required: true })
const notes = defineModel<string[]>('notes', { required: true })
const props = defineProps<{ standard: Profile; fixed: boolean }>()

interface Row {
  path: string
  label: string
  unit?: string
  choices?: (string | number | boolean)[]
  step?: number
}
const GROUPS: { name: string; rows: Row[] }[] = [
  {
    name: 'Numbers',
    rows: [
      { path: 'units', label: 'Units', choices: ['mm', 'in'] },
      { path: 'places', label: 'Decimal places', step: 1 },
      { path: 'fraction', label: 'Fractions of an inch', choices: [0, 2, 4, 8, 16, 32, 64] },
      { path: 'angle_form', label: 'Angles', choices: ['decimal', 'minutes'] },
      { path: 'angle_places', label: 'Places of angles', step: 1 },
      { path: 'tolerance_height', label: 'Deviations, part of lettering', step: 0.1 },
      { path: 'decimal_sign', label: 'Decimal sign', choices: [',', '.'] },
      { path: 'trailing_zeros', label: 'Trailing zeros', choices: [true, false] },
      { path: 'leading_zero', label: 'Leading zero', choices: [true, false] },
      { path: 'mass_unit', label: 'Masses in', choices: ['', 'kg', 'lb'] },
    ],
  },
  {
    name: 'Lettering',
    rows: [
      { path: 'text_height', label: 'Sizes and notes', unit: 'mm', step: 0.5 },
      { path: 'label_height', label: 'View labels', unit: 'mm', step: 0.5 },
      { path: 'dimension_text', label: 'Number of a size', choices: ['above', 'broken'] },
      { path: 'section_label', label: 'Wording of sections' },
      { path: 'detail_label', label: 'Wording of details' },
      { path: 'auxiliary_label', label: 'Wording of auxiliary views' },
    ],
  },
  {
    name: 'Arrows and distances',
    rows: [
      { path: 'arrow', label: 'Arrowheads', choices: ['filled', 'open', 'dot', 'stroke'] },
      { path: 'arrow_length', label: 'Their length', unit: 'mm', step: 0.25 },
      { path: 'arrow_width', label: 'Their width', unit: 'mm', step: 0.1 },
      { path: 'extension_gap', label: 'Gap of extension lines', unit: 'mm', step: 0.25 },
      { path: 'extension_beyond', label: 'Extension beyond the size', unit: 'mm', step: 0.25 },
      { path: 'first_row', label: 'First row from the outline', unit: 'mm', step: 0.5 },
      { path: 'next_row', label: 'Next rows', unit: 'mm', step: 0.5 },
      { path: 'text_gap', label: 'Number from its line', unit: 'mm', step: 0.1 },
      { path: 'center_past', label: 'Center lines past the outline', unit: 'mm', step: 0.5 },
      { path: 'view_gap', label: 'Room between views', unit: 'mm', step: 1 },
    ],
  },
  {
    name: 'Drawing',
    rows: [
      { path: 'projection', label: 'Projection', choices: ['first', 'third'] },
      { path: 'default_size', label: 'Smallest sheet taken' },
      { path: 'general_tolerance', label: 'General tolerance' },
    ],
  },
  {
    name: 'Files',
    rows: [
      { path: 'release_archive', label: 'PDF/A-3 with a release', choices: [true, false] },
      { path: 'lost_things', label: 'Files when things are lost', choices: ['refuse', 'warn'] },
    ],
  },
]
const LINES: Record<string, string> = {
  visible: 'Visible', hidden: 'Hidden', center: 'Center', dimension: 'Sizes', tangent: 'Tangent edges', hatch: 'Hatching', cutting: 'Cutting line', cutting_end: 'Its ends',
  phantom: 'Phantom', break: 'Breaks', thread: 'Threads', thread_hidden: 'Threads, hidden', outline: 'Outlines of details', border: 'Border', frame: 'Frame', frame_thin: 'Frame, thin',
}
const value = (p: Profile, path: string) => (p as unknown as Record<string, unknown>)[path]
const said = (v: unknown) => (v === true ? 'yes' : v === false ? 'no' : v === 0 ? 'none' : v === '' ? 'the standard’s' : String(v))
const departs = (path: string) => JSON.stringify(value(profile.value, path)) !== JSON.stringify(value(props.standard, path))
function set(path: string, v: unknown) {
  if (v === undefined || v === null) return
  profile.value = { ...profile.value, [path]: v } as Profile
}
const lines = computed(() => Object.keys(LINES).filter((n) => profile.value.lines[n]))
const dashes = (n: string, p: Profile) => (p.lines[n]?.dashes ?? []).map((d) => Number(d.toFixed(2))).join(' ')
const lineDeparts = (n: string) => JSON.stringify(profile.value.lines[n]) !== JSON.stringify(props.standard.lines[n])
function setLine(n: string, what: object) {
  profile.value = { ...profile.value, lines: { ...profile.value.lines, [n]: { ...profile.value.lines[n], ...what } } }
}
type Rule = Schemas['RuleOut']
type Gravity = Rule['gravity']
const GRAVITIES: Record<Gravity, string> = { grave: 'grave', look: 'to look at', off: 'off' }
const rules = ref<Rule[]>([])
onMounted(async () => (rules.value = await data(api.GET('/api/rules')).catch(() => [])))
const graveness = (r: Rule): Gravity => profile.value.rules?.[r.key] ?? r.gravity
function setRule(r: Rule, gravity: Gravity) {
  const rest = Object.fromEntries(Object.entries(profile.value.rules ?? {}).filter(([key]) => key !== r.key))
  profile.value = { ...profile.value, rules: gravity === r.gravity ? rest : { ...rest, [r.key]: gravity } }
}
function setDashes(n: string, text: string) {
  setLine(n, { dashes: text.split(/[\s;]+/).filter(Boolean).map((d) => Number(d.replace(',', '.'))) })
}
</script>

<template>
  <div class="values">
    <section v-for="g in GROUPS" :key="g.name">
      <h2>{{ g.name }}</h2>
      <div v-for="r in g.rows" :key="r.path" class="value" :class="{ departs: departs(r.path) }" :data-test="`value-${r.path}`">
        <label>{{ r.label }}</label>
        <el-select v-if="r.choices" :model-value="value(profile, r.path) as string" :disabled="fixed" :empty-values="[undefined]" @change="(v: unknown) => set(r.path, v)"><el-option v-for="c in r.choices" :key="String(c)" :value="c as string" :label="said(c)" /></el-select>
        <el-input-number v-else-if="r.step" :model-value="value(profile, r.path) as number" :step="r.step" :min="0" :max="200" :disabled="fixed" controls-position="right" @change="(v) => set(r.path, v)" />
        <TextField v-else :value="value(profile, r.path) as string" :disabled="fixed" maxlength="120" :placeholder="said('')" @change="(v: string) => set(r.path, v)" />
        <span class="unit">{{ r.unit }}</span>
        <span class="own" :title="departs(r.path) ? 'departs from the standard' : 'as the standard says'">{{ said(value(standard, r.path)) }}</span>
      </div>
    </section>
    <section class="lines">
      <h2>Lines</h2>
      <div class="value line head"><span>Kind</span><span>Width, mm</span><span>Dash, gap, … in mm</span><span class="own">Standard</span></div>
      <div v-for="n in lines" :key="n" class="value line" :class="{ departs: lineDeparts(n) }">
        <label>{{ LINES[n] }}</label>
        <el-input-number :model-value="profile.lines[n].width" :step="0.05" :min="0.05" :max="3" :disabled="fixed" controls-position="right" @change="(v) => v && setLine(n, { width: v })" />
        <TextField :value="dashes(n, profile)" :disabled="fixed" placeholder="unbroken" @change="(t: string) => setDashes(n, t)" />
        <span class="own">{{ standard.lines[n] ? Number(standard.lines[n].width.toFixed(2)) : '' }} {{ dashes(n, standard) ? `· ${dashes(n, standard)}` : '' }}</span>
      </div>
    </section>
    <section v-if="rules.length" data-test="rules">
      <h2>Findings</h2>
      <p class="quiet">How grave it is where a rule is not kept.</p>
      <div v-for="r in rules" :key="r.key" class="value" :class="{ departs: graveness(r) !== r.gravity }" :title="profile.standard === 'ASME' ? r.asme : r.iso" :data-test="`rule-${r.key}`">
        <label>{{ r.title }}</label>
        <el-select :model-value="graveness(r)" :disabled="fixed" @change="(v: Gravity) => setRule(r, v)"><el-option v-for="(name, g) in GRAVITIES" :key="g" :value="g" :label="name" /></el-select>
        <span class="unit" />
        <span class="own">{{ GRAVITIES[r.gravity] }}</span>
      </div>
    </section>
    <section>
      <h2>General notes</h2>
      <p class="quiet">One a line; a new drawing starts with them.</p>
      <TextField :rows="4" :value="notes.join('\n')" :disabled="fixed" data-test="notes" @change="(t: string) => (notes = t.split('\n').map((l) => l.trim()).filter(Boolean))" />
    </section>
  </div>
</template>

<style scoped>
.values {
  columns: 2 460px;
  column-gap: 48px;
  padding: 16px 24px;
}
section {
  break-inside: avoid;
  margin-bottom: 20px;
}
.lines {
  break-inside: auto;
}
h2 {
  margin: 0 0 6px;
}
.value {
  display: grid;
  grid-template-columns: 1fr 150px 28px 92px;
  align-items: center;
  gap: 8px;
  min-height: 36px;
  border-bottom: 1px solid var(--line);
}
.line {
  grid-template-columns: 120px 104px 1fr 128px;
}
.head {
  color: var(--quiet);
  min-height: 26px;
}
.unit,
.own {
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.departs .own::before {
  content: '≠ ';
}
.departs .own,
.departs label {
  color: #8a5e06;
  font-weight: 600;
}
.value :deep(.el-input-number) {
  width: 100%;
}
</style>
