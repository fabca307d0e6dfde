<script setup lang="ts">
// A drawing on its way: its state, who may bring it further, what was released with its files, and any two revisions one over the other.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { api, data, ended, Problem, type Annotation, type JobState, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { when } from '@/words'
import OverlaySheet from './OverlaySheet.vue'
import OverPanel from './OverPanel.vue'
import { useDesk } from './store'

const emit = defineEmits<{ close: [] }>()
const desk = useDesk()
const page = ref<Schemas['RevisionPage']>()
const told = ref<Schemas['Compared']>()
const over = ref<Schemas['OverlayInk']>()
const waiting = ref('')
const { busy, problem, attempt } = useAttempt()
const note = ref('')
const mark = ref('')
const before = ref('')
const after = ref('now')
const sheet = ref(desk.sheet?.id ?? '')
let timer = 0

const id = desk.drawing!.id
const path = { path: { drawing_id: id } }
const NAMES: Record<string, string> = { work: 'in work', check: 'for check', released: 'released', withdrawn: 'withdrawn' }
const ACTIONS: Record<string, string> = { check: 'Send for check', work: 'Take back to work', released: 'Approve and release', withdrawn: 'Withdraw' }
const marks = computed(() => page.value?.releases.map((r) => r.mark) ?? [])
const opens = computed(() => page.value?.may.includes('work') && page.value.state !== 'check')
const file = (r: string, kind: string) => `/api/drawings/${id}/releases/${encodeURIComponent(r)}/files/${kind}`
const sides = computed(() => ({ before: before.value, after: after.value }))
const comparison = computed(() => `/api/drawings/${id}/compare.pdf?before=${encodeURIComponent(before.value)}&after=${encodeURIComponent(after.value)}`)
const FILES: Record<string, string> = { pdf: 'PDF', pdfa: 'PDF/A-3', dxf: 'DXF', svg: 'SVG', step: 'STEP', sizes: 'sizes, XLSX', parts: 'parts, XLSX' }

async function load() {
  page.value = await data(api.GET('/api/drawings/{drawing_id}/revisions', { params: path }))
  if (!before.value && marks.value.length) before.value = marks.value[0] === page.value.mark && page.value.state !== 'work' ? (marks.value[1] ?? marks.value[0]) : marks.value[0]
}
const bring = (to: 'work' | 'check' | 'released' | 'withdrawn') =>
  attempt(to, async () => {
    const answer = (await data(api.POST('/api/drawings/{drawing_id}/state', { params: path, body: { to, note: note.value, mark: mark.value } }))) as Schemas['RevisionPage'] | JobState
    if ('subject' in answer) {
      const end = await ended(answer)
      if (end.state === 'failed') throw new Problem(end.text, 422)
    }
    note.value = mark.value = ''
    await desk.again()
    await load()
  })
async function compare() {
  told.value = over.value = undefined
  if (!before.value || before.value === after.value) return
  await attempt('compare', async () => {
    told.value = await data(api.GET('/api/drawings/{drawing_id}/compare', { params: { ...path, query: sides.value } }))
    if (!(sheet.value in told.value.sheets)) sheet.value = Object.keys(told.value.sheets)[0]
    await look()
  })
}
async function look() {
  window.clearTimeout(timer)
  const asked = JSON.stringify([sides.value, sheet.value])
  try {
    const found = await data(api.GET('/api/drawings/{drawing_id}/compare/sheets/{sheet_id}', { params: { path: { drawing_id: id, sheet_id: sheet.value }, query: sides.value } }))
    if (asked !== JSON.stringify([sides.value, sheet.value])) return
    over.value = found
    waiting.value = ''
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 425) throw error
    waiting.value = error.message
    timer = window.setTimeout(() => look().catch((e: Error) => (problem.value = e.message)), 300)
  }
}
watch([before, after], compare)
watch(sheet, () => {
  over.value = undefined
  if (before.value && told.value) look().catch((e: Error) => (problem.value = e.message))
})
/** Clouds about what differs from the earlier revision, placed on all sheets. */
const cloud = () =>
  attempt('clouds', async () => {
    const found = await data(api.GET('/api/drawings/{drawing_id}/clouds', { params: { ...path, query: { before: before.value } } }))
    let count = 0
    for (const [key, annotations] of Object.entries(found.sheets)) {
      if (!annotations.length) continue
      count += annotations.length
      if (!(await desk.edit({ command: 'place', annotations: annotations as Annotation[], sheet: key, known: 'refuse' }))) throw new Problem(desk.problem, 422)
    }
    if (!count) throw new Problem(`Nothing differs from revision ${before.value}.`, 422)
    await compare()
  })
const describe = (m: string, description: string) => desk.edit({ command: 'change_revision', mark: m, description })
function show(d: Schemas['Difference']) {
  if (d.sheet && told.value && d.sheet in told.value.sheets) sheet.value = d.sheet
}
/** Go to where something differs, on the sheet itself. */
async function go(d: Schemas['Difference']) {
  if (!d.annotation || !desk.document?.sheets.some((s) => s.annotations.some((a) => a.id === d.annotation))) return
  emit('close')
  if (d.sheet && d.sheet !== desk.sheet?.id) await desk.showSheet(d.sheet)
  desk.selected = [{ kind: 'annotation', id: d.annotation }]
}
onMounted(() => attempt('', load))
onBeforeUnmount(() => window.clearTimeout(timer))
</script>

<template>
  <OverPanel data-test="revisions" @close="emit('close')">
    <template #sheet>
    <OverlaySheet v-if="before && before !== after" :ink="over" :waiting="waiting" :before="`revision ${before}`" :after="after === 'now' ? 'as it is' : `revision ${after}`" />
    <p v-else class="quiet none">Two revisions are compared here once one is released.</p>
    </template>
      <button class="link close" data-test="revisions-close" @click="emit('close')">Back to the sheet</button>
      <template v-if="page">
        <h2>{{ page.mark ? `Revision ${page.mark}` : 'No revision yet' }}</h2>
        <p class="sub">is <b :class="page.state" data-test="revision-state">{{ NAMES[page.state] }}</b></p>
        <div v-for="r in (desk.document?.revisions ?? []).filter((o) => o.mark === page!.mark && page!.state === 'work')" :key="r.mark" class="row">
          <label :for="`revision-${r.mark}`">Changes</label>
          <input :id="`revision-${r.mark}`" class="field" :value="r.description" maxlength="400" data-test="revision-says" @change="(e) => describe(r.mark, (e.target as HTMLInputElement).value)" />
        </div>
        <template v-if="page.may.length">
          <textarea v-model="note" class="field" rows="2" maxlength="400" :placeholder="opens ? 'What the next revision changes' : 'A word with it, if you like'" :aria-label="opens ? 'What the next revision changes' : 'A word with it'" data-test="state-note" />
          <div v-if="opens" class="row"><label for="revision-mark">Mark</label><input id="revision-mark" v-model="mark" class="field short" maxlength="8" :placeholder="page.next" data-test="revision-mark" /></div>
          <div class="actions">
            <el-button v-if="opens" type="primary" :loading="busy === 'work'" data-test="state-work" @click="bring('work')">Start revision {{ mark || page.next }}</el-button>
            <template v-for="to in page.may" :key="to">
              <el-button v-if="!(opens && to === 'work')" :type="to === 'released' || to === 'check' ? 'primary' : undefined" :loading="busy === to" :data-test="`state-${to}`" @click="bring(to as 'work')">{{ ACTIONS[to] }}</el-button>
            </template>
          </div>
        </template>
        <p v-if="problem" class="fault-note" role="alert" data-test="revision-problem">{{ problem }}</p>
        <template v-if="marks.length">
          <h3>Compare</h3>
          <div class="pair">
            <el-select v-model="before" size="small" aria-label="Earlier" data-test="compare-before"><el-option v-for="m in marks" :key="m" :value="m" :label="`revision ${m}`" /></el-select>
            <span>with</span>
            <el-select v-model="after" size="small" aria-label="Later" data-test="compare-after"><el-option value="now" label="as it is" /><el-option v-for="m in marks" :key="m" :value="m" :label="`revision ${m}`" /></el-select>
          </div>
          <el-select v-if="told && Object.keys(told.sheets).length > 1" v-model="sheet" size="small" class="wide" aria-label="Sheet"><el-option v-for="(name, key) in told.sheets" :key="key" :value="key" :label="name" /></el-select>
          <template v-if="told">
            <p v-if="!told.differences.length" class="quiet">Nothing differs.</p>
            <button v-for="(d, n) in told.differences" :key="n" class="line" data-test="difference" @mouseenter="show(d)" @click="go(d)">{{ d.what }} <b :class="{ gone: !d.after }">{{ d.before || 'none' }}</b> → <b :class="{ new: !d.before }">{{ d.after || 'none' }}</b></button>
            <p class="links">
              <a :href="comparison" download data-test="compare-pdf">Comparison, PDF</a>
              <button v-if="after === 'now' && page.state === 'work'" class="link" data-test="clouds" @click="cloud">Draw clouds about it</button>
            </p>
          </template>
          <h3>Released</h3>
          <div v-for="r in page.releases" :key="r.mark" class="release" :data-test="`release-${r.mark}`">
            <p><b>{{ r.mark }}</b> <span class="quiet">{{ when(r.at) }}{{ r.by ? `, ${r.by}` : '' }}; model {{ r.version }}</span></p>
            <p class="links"><a v-for="f in r.files" :key="f.kind" :href="file(r.mark, f.kind)" :title="`${f.name}\nSHA-256 ${f.sha256}`" download :data-test="`released-${f.kind}`">{{ FILES[f.kind] ?? f.kind }}</a></p>
          </div>
        </template>
        <template v-if="page.changes.length">
          <h3>Its way</h3>
          <p v-for="(c, n) in page.changes" :key="n" class="change"><b>{{ NAMES[c.state] }}</b>{{ c.mark ? ` (${c.mark})` : '' }} <span class="quiet">{{ when(c.at) }}{{ c.by ? `, ${c.by}` : '' }}</span><template v-if="c.note"><br />{{ c.note }}</template></p>
        </template>
      </template>
  </OverPanel>
</template>

<style scoped>
.none {
  flex: 1;
  display: grid;
  place-items: center;
}
.sub {
  margin-bottom: 8px;
}
.check {
  color: var(--attention);
}
.released {
  color: var(--good);
}
.withdrawn {
  color: var(--fault);
}
.row {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 4px 0;
}
.row label {
  width: 64px;
  flex: none;
  color: var(--quiet);
}
.field {
  font: inherit;
  color: inherit;
  width: 100%;
  box-sizing: border-box;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 4px 8px;
  background: var(--field);
  resize: vertical;
}
.short {
  width: 80px;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0;
}
.actions :deep(.el-button) {
  margin: 0;
}
.pair {
  display: flex;
  align-items: center;
  gap: 8px;
}
.gone {
  color: var(--fault);
}
.new {
  color: var(--good);
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.links a {
  color: var(--accent);
  text-decoration: underline;
}
.release {
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
</style>
