<script setup lang="ts">
// The desk: stages on the left, the sheet, particulars on the right, the prompt in the foot.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import HeadBar from '@/components/HeadBar.vue'
import PaperIcon from '@/components/PaperIcon.vue'
import BringAlong from '@/desk/BringAlong.vue'
import ActionFinder from '@/desk/ActionFinder.vue'
import { useActions } from '@/desk/actions'
import PaperSheet from '@/desk/PaperSheet.vue'
import ParticularsPanel from '@/desk/ParticularsPanel.vue'
import { written } from '@/desk/scales'
import PartsTable from '@/desk/PartsTable.vue'
import RevisionsPanel from '@/desk/RevisionsPanel.vue'
import SheetStrip from '@/desk/SheetStrip.vue'
import InspectionSheet from '@/desk/InspectionSheet.vue'
import SizeSheet from '@/desk/SizeSheet.vue'
import StageRail from '@/desk/StageRail.vue'
import { useDesk } from '@/desk/store'
import { useDeskKeys } from '@/desk/keys'
import { useCompleteness } from '@/desk/completeness'
import { usePencil } from '@/desk/pencil'
import { useTools } from '@/desk/tools'
import { useSession } from '@/session'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const pencil = usePencil()
const said = useCompleteness()
const session = useSession()
const beside = computed(() => [...pencil.others.values()].filter((o) => Date.now() - o.seen < 120_000))
const paper = ref<InstanceType<typeof PaperSheet>>()
const stage = ref(2)
const folded = ref(false)
const finding = ref(false)
const zoom = ref(1)
const strip = ref(false)
const sizeSheet = ref(false)
const inspection = ref(false)
const partsTable = ref(false)
const revisions = ref(false)
const STATES: Record<string, string> = { work: 'in work', check: 'for check', released: 'released', withdrawn: 'withdrawn' }
/** The version that the drawing may be brought along to; 0 for none. */
const along = ref(0)
const shown = computed(() => desk.drawing?.versions.find((v) => v.number === desk.document?.shows)?.name ?? '')
const newest = computed(() => desk.drawing?.versions[0])
const hasMovedOn = computed(() => !!newest.value && newest.value.number > (desk.document?.shows ?? 0))

const actions = useActions(focusFields, () => paper.value?.fit(), () => (strip.value = !strip.value), () => toggle('sizes'), () => toggle('parts'), generalNotes, () => toggle('inspection'))
/** One table at a time stands under the sheet. */
function toggle(which: 'sizes' | 'parts' | 'inspection') {
  inspection.value = which === 'inspection' && !inspection.value
  sizeSheet.value = which === 'sizes' && !sizeSheet.value
  partsTable.value = which === 'parts' && !partsTable.value
}
const PX_PER_MM = 96 / 25.4
const percent = computed(() => `${Math.round((zoom.value / PX_PER_MM) * 100)} %`)
const sheetOf = computed(() => {
  const sheets = desk.document?.sheets ?? []
  return `sheet ${sheets.findIndex((s) => s.id === desk.sheet?.id) + 1} of ${sheets.length}`
})
const coordinates = computed(() => {
  const inch = desk.document?.profile.units === 'in'
  const f = (v: number) => (inch ? (v / 25.4).toFixed(2) : v.toFixed(1))
  return `x ${f(tools.pointer.x)}  y ${f(tools.pointer.y)}`
})
const heading = computed(() => {
  const d = desk.document
  return d ? { number: d.fields.number || desk.drawing?.model_number || '', title: d.fields.title || d.name } : null
})
/** A size under the pointer: what it reads and the limits that hold for it. */
const pointedSize = computed(() => {
  const a = desk.drawn?.annotations.find((i) => i.id === desk.pointed)
  return a?.applies ? `${a.text} holds ${a.applies}.` : ''
})
watch(() => stage.value === 8, (checking) => (said.lighting = checking), { immediate: true })
watch(() => [stage.value === 5, desk.drawing?.version], ([wanted]) => wanted && desk.nameGeneral())
/** A feature under the pointer, and what is said of it; at the tolerances also what holds where nothing is. */
const pointedFeature = computed(() => {
  const e = desk.pointedEdge
  const found = e && desk.featureAt(e.path, e.source)
  const general = e && stage.value === 5 ? desk.generalAt(e.path, e.source) : ''
  const named = found ? `${found.name[0].toUpperCase()}${found.name.slice(1)}${found.says ? `: ${found.says}` : ''}` : ''
  return [named, general && `generally ${general}`].filter(Boolean).join('; ')
})
const kept = computed(() => (desk.saving ? 'Keeping …' : 'All kept'))
const busyFile = computed(() => [...desk.jobs.values()].find((j) => j.state === 'waiting' || j.state === 'running'))

async function generalNotes() {
  tools.stop()
  desk.selected = []
  await nextTick()
  const own = document.querySelector<HTMLInputElement>('[data-test=note-typed]')
  own?.scrollIntoView({ block: 'center' })
  own?.focus()
}
async function focusFields() {
  tools.stop()
  desk.selected = []
  stage.value = 1
  await nextTick()
  const blank = desk.drawn?.blank_fields.find((f) => document.getElementById(`field-${f}`))
  document.getElementById(`field-${blank ?? 'title'}`)?.focus()
}

useDeskKeys(actions, stage, () => (finding.value = true))

async function open(id: string) {
  tools.stop()
  const before = stage.value
  try {
    await desk.open(id)
    pencil.listen(session.me?.id ?? 0)
    const d = desk.drawing
    if (d) document.title = `${d.model_name} · Moorcrest`
    if (stage.value === before) stage.value = desk.sheet?.views.length ? 4 : 2 // else a stage was chosen meanwhile
    if (!desk.sheet?.views.length) tools.start('main')
  } catch (error) {
    desk.fail(error)
  }
}

onMounted(() => open(props.id))
onBeforeUnmount(() => {
  tools.stop()
  pencil.hangUp()
  desk.close()
})
watch(() => props.id, open)
</script>

<template>
  <div class="desk">
    <HeadBar>
      <span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span>
      <template v-if="heading && desk.document">
        <RouterLink class="name" :to="{ name: 'model', params: { id: desk.drawing!.model } }"><template v-if="heading.number"><b>{{ heading.number }}</b>&ensp;</template>{{ heading.title }}</RouterLink>
        <span class="pill">{{ desk.document.profile.standard }}</span>
        <span class="pill" data-test="projection-pill">{{ desk.document.projection }} angle</span>
        <span class="pill">{{ desk.document.profile.units }}</span>
        <span v-if="desk.sheet" class="pill">{{ written(desk.sheet.scale) }}</span>
        <button class="pill version" :class="desk.drawing!.state" data-test="state-pill" title="State, revisions and releases" @click="revisions = !revisions">{{ desk.document.fields.revision ? `${desk.document.fields.revision}, ` : '' }}{{ STATES[desk.drawing!.state] }}</button>
        <button v-if="desk.drawing!.versions.length > 1" class="pill version" :class="{ behind: hasMovedOn }" data-test="version-pill" :title="`Shows version ${shown} of its model`" @click="along = hasMovedOn ? newest!.number : desk.drawing!.versions.find((v) => v.number !== desk.document!.shows)!.number">
          {{ hasMovedOn ? `version ${shown}; the model has moved on` : `version ${shown}` }}
        </button>
      </template>
      <template #end>
        <span v-for="o in beside" :key="o.name" class="pill other" :title="`${o.name} has this drawing open`" data-test="other">{{ o.name }}</span>
        <span class="quiet" data-test="kept">{{ kept }}</span>
        <button class="turn" title="Undo (Ctrl+Z)" aria-label="Undo" data-test="undo" :disabled="!desk.drawing?.can_undo" @click="desk.undo()"><PaperIcon name="undo" /></button>
        <button class="turn" title="Redo (Ctrl+Shift+Z)" aria-label="Redo" data-test="redo" :disabled="!desk.drawing?.can_redo" @click="desk.redo()"><PaperIcon name="redo" /></button>
      </template>
    </HeadBar>
    <div class="middle">
      <StageRail :actions="actions" :stage="stage" :folded="folded" @stage="(n) => (stage = n)" @fold="folded = !folded" />
      <PaperSheet ref="paper" @zoom="(z) => (zoom = z)" />
      <ParticularsPanel v-if="desk.document" :checking="stage === 8" @rows="partsTable = true" />
      <RevisionsPanel v-if="revisions && desk.document" @close="revisions = false" />
      <BringAlong v-if="along && desk.document" :to="along" @close="along = 0" />
    </div>
    <SizeSheet v-if="sizeSheet && desk.document" @close="sizeSheet = false" />
    <InspectionSheet v-if="inspection && desk.document" @close="inspection = false" />
    <PartsTable v-if="partsTable && desk.document" @close="partsTable = false" />
    <SheetStrip v-if="strip && desk.document" />
    <footer class="foot">
      <span class="say" data-test="prompt">
        <span v-if="tools.refusal" class="bad" role="alert">{{ tools.refusal }}</span>
        <span v-else-if="desk.problem" class="bad" role="alert" data-test="problem">{{ desk.problem }}</span>
        <template v-else-if="tools.prompt">{{ tools.prompt.say }}</template>
        <span v-else-if="pointedSize" data-test="pointed">{{ pointedSize }}</span>
        <span v-else-if="pointedFeature" data-test="pointed-hole">{{ pointedFeature }}</span>
        <template v-else-if="busyFile">Writing {{ busyFile.subject }}: {{ busyFile.text || 'waiting for a worker' }}</template>
        <template v-else-if="desk.said">{{ desk.said }}.</template>
        <template v-else>Point at a line to see its feature in every view. <b>/</b> finds an action.</template>
        <template v-if="tools.prompt"><span v-for="[k, what] in tools.prompt.keys" :key="k" class="keys"><b>{{ k }}</b> {{ what }}</span></template>
      </span>
      <span class="number">{{ coordinates }}</span>
      <span class="number" data-test="zoom">{{ percent }}</span>
      <button v-if="desk.drawn?.warnings.length" class="warn" data-test="warnings" :title="desk.drawn.warnings.map((w) => w.text).join(' ')" @click="desk.lookingAtWarnings = !desk.lookingAtWarnings">{{ desk.drawn.warnings[0].text }}{{ desk.drawn.warnings.length > 1 ? ` ${desk.drawn.warnings.length - 1} more.` : '' }}</button>
      <button class="sheets" data-test="sheets" :aria-expanded="strip" title="All sheets (K)" @click="strip = !strip">{{ sheetOf }} {{ strip ? '▾' : '▴' }}</button>
    </footer>
    <ActionFinder v-if="finding" :actions="actions" @close="finding = false" />
  </div>
</template>

<style scoped>
.desk {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.middle {
  flex: 1;
  min-height: 0;
  display: flex;
  position: relative;
}
.version:hover {
  background: var(--accent-ground);
}
.released {
  color: var(--good);
}
.withdrawn {
  color: var(--fault);
}
.check,
.behind {
  color: var(--attention);
  background: var(--attention-ground);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.turn {
  width: 28px;
  height: 28px;
  border-radius: 6px;
  display: grid;
  place-items: center;
}
.turn:hover:enabled {
  background: var(--accent-ground);
}
.turn:disabled {
  opacity: 0.35;
  cursor: default;
}
.foot {
  height: 32px;
  flex: none;
  background: var(--panel);
  border-top: 1px solid var(--line);
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 0 16px;
  color: var(--quiet);
  white-space: nowrap;
}
.say {
  flex: 1;
  color: var(--text);
  overflow: hidden;
  text-overflow: ellipsis;
}
.say b {
  color: var(--accent);
  font-weight: 600;
}
.keys {
  margin-left: 14px;
}
.bad {
  color: var(--fault);
}
.sheets {
  border-radius: 6px;
  padding: 2px 8px;
}
.sheets:hover {
  background: var(--accent-ground);
}
.warn {
  color: var(--attention, #8a5e06);
  max-width: 360px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.number {
  font-variant-numeric: tabular-nums;
  white-space: pre;
}
</style>
