<script setup lang="ts">
// The inspection sheet: each characteristic with its limits, what was measured of each piece, and whether that is in or out.
import { computed, ref, watch } from 'vue'
import { api, data, Problem, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { numberCharacteristics } from './characteristics'
import { useDesk } from './store'

defineEmits<{ close: [] }>()
const desk = useDesk()
type Row = Schemas['InspectionRow']
type Piece = Row['pieces'][number]
type Name = 'value' | 'dx' | 'dy' | 'size'
const page = ref<Schemas['Inspection']>()
const added = ref<string[]>([])
const wrong = ref('')
const chooser = ref<HTMLInputElement>()
const path = () => ({ drawing_id: desk.drawing!.id })
const pieces = computed(() => [...new Set([...(page.value?.pieces ?? []), ...added.value])])
const shown = computed(() => (pieces.value.length ? pieces.value : ['1']))
const sign = computed(() => desk.document?.profile.decimal_sign ?? '.')
const number = (v: number | null | undefined) => (v === null || v === undefined ? '' : String(Number(v.toFixed(6))).replace('.', sign.value))
const of = (r: Row, piece: string) => r.pieces.find((p) => p.piece === piece)
const hasPlace = (r: Row) => r.is_frame && r.kind === 'position'
const chosen = (r: Row) => desk.selected.some((s) => s.kind === 'annotation' && (s.id === r.mark || s.id === r.annotation))
function limits(r: Row): string {
  if (r.by_words) return ''
  const both = r.lower !== null && r.upper !== null
  const said = both ? `${number(r.lower)} – ${number(r.upper)}` : r.upper !== null ? `≤ ${number(r.upper)}` : `≥ ${number(r.lower)}`
  return said + (r.unit === 'deg' ? '°' : ` ${r.unit}`)
}
const verdict = (p: Piece | undefined) => (p?.is_in === true ? 'in' : p?.is_in === false ? 'out' : '')

async function load() {
  if (!desk.drawing) return
  page.value = await data(api.GET('/api/drawings/{drawing_id}/inspection', { params: { path: path() } })).catch((error: Error) => void (wrong.value = error.message)) ?? page.value
}
watch(() => [desk.drawing?.id, desk.drawing?.version], load, { immediate: true })

async function keep(body: Schemas['ReadingIn']) {
  wrong.value = ''
  try {
    page.value = await data(api.POST('/api/drawings/{drawing_id}/inspection/readings', { params: { path: path() }, body }))
  } catch (error) {
    wrong.value = (error as Error).message
    await load()
  }
}
const before = (r: Row, piece: string) => {
  const p = of(r, piece)
  return { number: r.number, piece, value: p?.measured ?? null, dx: p?.dx ?? null, dy: p?.dy ?? null, size: p?.size ?? null, is_kept: p?.is_kept ?? null }
}
async function say(r: Row, piece: string, name: Name, text: string) {
  const typed = text.trim().replace(',', '.')
  if (typed && !Number.isFinite(Number(typed))) {
    wrong.value = `${text} is no number.`
    return
  }
  await keep({ ...before(r, piece), [name]: typed ? Number(typed) : null })
}
const keepIt = (r: Row, piece: string, is_kept: boolean | null) => keep({ ...before(r, piece), is_kept })
async function bring(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  wrong.value = ''
  const form = new FormData()
  form.append('file', file)
  try {
    page.value = await data(api.POST('/api/drawings/{drawing_id}/inspection/table', { params: { path: path() }, body: form as never, bodySerializer: (b) => b }))
  } catch (error) {
    wrong.value = error instanceof Problem ? error.message : String(error)
  }
  if (chooser.value) chooser.value.value = ''
}
function addPiece() {
  let n = shown.value.length + 1
  while (shown.value.includes(String(n))) n++
  added.value = [...new Set([...shown.value, String(n)])]
}
async function jump(r: Row) {
  const sheet = desk.document?.sheets[r.sheet - 1]
  if (sheet && desk.sheet?.id !== sheet.id) await desk.showSheet(sheet.id)
  desk.selected = [{ kind: 'annotation', id: r.annotation || r.mark }]
}
const change = (r: Row, values: object) => desk.edit({ command: 'change', ids: [r.mark], values } as never)
const file = (kind: string) => `/api/drawings/${desk.drawing!.id}/inspection.${kind}`
</script>

<template>
  <section class="inspection" aria-label="Inspection sheet" data-test="inspection">
    <header>
      <b>Inspection sheet</b>
      <span v-if="page?.rows.length" class="quiet">{{ page.rows.length }} characteristics</span>
      <span v-if="page?.out" class="bad" data-test="out">{{ page.out }} out</span>
      <span class="space" />
      <span v-if="wrong" class="bad" role="alert" data-test="inspection-wrong">{{ wrong }}</span>
      <template v-if="page?.rows.length">
        <button data-test="number-rest" @click="numberCharacteristics()">Number the rest</button>
        <button data-test="number-anew" @click="numberCharacteristics(true)">All anew</button>
        <button data-test="add-piece" @click="addPiece">Another piece</button>
        <label class="bring">Measured values from CSV<input ref="chooser" type="file" accept=".csv,.txt" data-test="readings-file" @change="bring" /></label>
        <a :href="file('xlsx')" download data-test="inspection-xlsx">XLSX</a>
        <a :href="file('csv')" download data-test="inspection-csv">CSV</a>
        <a :href="file('json')" download data-test="inspection-json">JSON</a>
      </template>
      <button class="quiet" aria-label="Close the inspection sheet" @click="$emit('close')">close</button>
    </header>
    <div class="rows">
      <table v-if="page?.rows.length">
        <thead>
          <tr>
            <th class="n">No.</th><th>Zone</th><th>Requirement</th><th>Limits</th><th>Method</th><th>Gauge</th>
            <th v-for="p in shown" :key="p">{{ shown.length > 1 || p !== '1' ? `Piece ${p}` : 'Measured' }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in page.rows" :key="r.mark" :class="{ on: chosen(r), gone: r.gone }" :data-test="`characteristic-${r.number}`" @click="jump(r)">
            <td class="n"><b :class="{ critical: r.critical }" :title="r.critical ? 'critical' : ''">{{ r.number }}</b></td>
            <td>{{ r.zone }}{{ (desk.document?.sheets.length ?? 0) > 1 ? `, sheet ${r.sheet}` : '' }}</td>
            <td class="reads">{{ r.requirement }}</td>
            <td class="limits">{{ limits(r) }}</td>
            <td class="edit" @click.stop><TextField :value="r.method" :aria-label="`Method for ${r.number}`" @change="(v: string) => change(r, { method: v })" /></td>
            <td class="edit" @click.stop><TextField :value="r.gauge" :aria-label="`Gauge for ${r.number}`" @change="(v: string) => change(r, { gauge: v })" /></td>
            <td v-for="p in shown" :key="p" class="piece" :class="verdict(of(r, p))" :title="of(r, p)?.why || ''" @click.stop>
              <template v-if="r.by_words">
                <button :class="{ set: of(r, p)?.is_kept === true }" :data-test="`kept-${r.number}-${p}`" @click="keepIt(r, p, of(r, p)?.is_kept === true ? null : true)">ok</button>
                <button :class="{ set: of(r, p)?.is_kept === false }" @click="keepIt(r, p, of(r, p)?.is_kept === false ? null : false)">not ok</button>
              </template>
              <template v-else>
                <TextField v-if="hasPlace(r)" :value="number(of(r, p)?.dx)" placeholder="dx" :aria-label="`dx of ${r.number}, piece ${p}`" :data-test="`dx-${r.number}-${p}`" @change="(v: string) => say(r, p, 'dx', v)" />
                <TextField v-if="hasPlace(r)" :value="number(of(r, p)?.dy)" placeholder="dy" :aria-label="`dy of ${r.number}, piece ${p}`" :data-test="`dy-${r.number}-${p}`" @change="(v: string) => say(r, p, 'dy', v)" />
                <TextField v-if="!hasPlace(r)" :value="number(of(r, p)?.measured)" :aria-label="`Measured ${r.number}, piece ${p}`" :data-test="`measured-${r.number}-${p}`" @change="(v: string) => say(r, p, 'value', v)" />
                <TextField v-if="r.needs_size" :value="number(of(r, p)?.size)" placeholder="size" :aria-label="`Size of ${r.number}, piece ${p}`" :data-test="`size-${r.number}-${p}`" @change="(v: string) => say(r, p, 'size', v)" />
                <span v-if="r.is_frame && of(r, p)?.value !== null && of(r, p)?.allowed" class="quiet">{{ number(of(r, p)?.value) }} of {{ number(of(r, p)?.allowed) }}</span>
              </template>
              <b v-if="verdict(of(r, p))" :data-test="`verdict-${r.number}-${p}`">{{ verdict(of(r, p)) }}</b>
              <span v-else-if="of(r, p)?.why" class="quiet" :data-test="`verdict-${r.number}-${p}`">?</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="!page && !wrong" class="quiet empty" role="status">Reading the sheet …</p>
      <p v-else-if="page" class="quiet empty">Nothing is numbered yet. <button class="link" data-test="number-now" @click="numberCharacteristics()">Number the characteristics</button></p>
    </div>
  </section>
</template>

<style scoped>
.inspection {
  height: 260px;
  flex: none;
  background: var(--panel);
  border-top: 1px solid var(--line);
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 6px 16px;
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
}
.space {
  flex: 1;
}
.rows {
  overflow: auto;
  flex: 1;
}
table {
  border-collapse: collapse;
  min-width: 100%;
}
th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--panel);
  text-align: left;
  font-weight: 600;
  padding: 4px 8px;
}
td {
  padding: 2px 8px;
  border-top: 1px solid var(--line);
  white-space: nowrap;
}
tr.on {
  background: var(--accent-ground);
}
tr.gone {
  opacity: 0.5;
}
.n {
  text-align: right;
}
.reads {
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.critical {
  border: 1px solid currentcolor;
  border-radius: 3px;
  padding: 0 4px;
}
.edit :deep(input) {
  width: 150px;
}
.edit + .edit :deep(input) {
  width: 80px;
}
.piece > :deep(*) {
  display: inline-block;
  vertical-align: middle;
  margin-right: 4px;
}
.piece :deep(input) {
  width: 62px;
}
.piece b {
  color: var(--good);
}
.piece.out b,
.bad {
  color: var(--fault);
}
.piece button {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 1px 8px;
}
.piece button.set {
  background: var(--accent-ground);
  border-color: var(--accent);
}
.bring {
  color: var(--accent);
  text-decoration: underline;
  cursor: pointer;
}
.bring input {
  position: absolute;
  opacity: 0;
  width: 1px;
  height: 1px;
}
.bring:focus-within {
  outline: 2px solid var(--accent);
}
.link {
  color: var(--accent);
  text-decoration: underline;
}
.empty {
  padding: 16px;
}
</style>
