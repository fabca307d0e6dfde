<script setup lang="ts">
// Particulars of what is selected, else of the sheet; edited in place.
import { computed } from 'vue'
import { VIEW_KINDS } from '@/words'
import { useDesk } from './store'
import { useTools } from './tools'
import { useViewTools } from './viewTools'
import ViewToolParticulars from './ViewToolParticulars.vue'
import SheetParticulars from './SheetParticulars.vue'
import { usePencil } from './pencil'
import { useModelSizes } from './modelSizes'
import ModelSizesPanel from './ModelSizesPanel.vue'
import PencilPanel from './PencilPanel.vue'
import { usePickTool } from './pickTool'
import { kindOnDesk } from './kinds'
import KindParticulars from './KindParticulars.vue'
import FeatureSaying from './FeatureSaying.vue'
import CenterToolParticulars from './CenterToolParticulars.vue'
import { isSize } from './sizes'
import SizeParticulars from './SizeParticulars.vue'
import TrailParticulars from './TrailParticulars.vue'
import ViewParticulars from './ViewParticulars.vue'

defineProps<{ checking: boolean }>()
defineEmits<{ rows: [] }>()
const desk = useDesk()
const tools = useTools()
const views = useViewTools()
const pick = usePickTool()
const pencil = usePencil()
const model = useModelSizes()
const one = computed(() => (desk.selected.length === 1 ? desk.selected[0] : null))
const curve = computed(() => {
  const s = one.value
  if (s?.kind !== 'curve') return null
  const g = desk.hitOf(s.view)?.geometry
  const c = g?.curves[s.curve]
  return g && c ? { ...c, path: g.instances[c.instance] } : null
})
const feature = computed(() => (curve.value ? desk.featureAt(curve.value.path, curve.value.source) : undefined))
const shape = computed(() => {
  const c = curve.value
  if (!c) return ''
  if (c.role === 'silhouette') return 'Outline'
  return c.kind === 'line' ? 'Straight edge' : c.kind === 'arc' || c.kind === 'ellipse' ? 'Circular edge' : 'Free curve'
})
const isCenter = (id: string) => ['center_mark', 'center_line', 'bolt_circle'].includes(desk.annotation(id)?.kind ?? '')
const kindOf = computed(() => (one.value?.kind === 'annotation' ? (desk.annotation(one.value.id)?.kind ?? '') : ''))
const panel = computed(() => kindOnDesk(kindOf.value)?.panel ?? KindParticulars)
const chosenSizes = computed(() => desk.selected.flatMap((s) => (s.kind === 'annotation' && isSize(desk.annotation(s.id)) ? [s.id] : [])))
const chosenCenters = computed(() => desk.selected.flatMap((s) => (s.kind === 'annotation' && isCenter(s.id) ? [s.id] : [])))
const removable = computed(() => desk.selected.filter((s) => s.kind !== 'curve').length)
</script>

<template>
  <aside class="particulars" aria-label="Particulars" data-test="particulars">
    <ModelSizesPanel v-if="model.open" />
    <PencilPanel v-else-if="pencil.tool || pencil.chosen || (checking && !desk.selected.length)" />
    <ViewToolParticulars v-else-if="views.tool" />
    <component :is="pick.steps.particulars" v-else-if="pick.steps?.particulars" />
    <CenterToolParticulars v-else-if="pick.steps?.action.stage === 3" />
    <SizeParticulars v-else-if="chosenSizes.length && chosenSizes.length === desk.selected.length" :ids="chosenSizes" :key="chosenSizes.join()" />
    <template v-else-if="desk.selected.length > 1">
      <h2>{{ desk.selected.length }} selected</h2>
      <p class="quiet sub">{{ removable ? 'Delete removes the views and sizes among them.' : 'Edges; start Size to measure between two.' }}</p>
      <div class="choices">
        <el-button v-if="chosenCenters.length" @click="desk.edit({ command: 'carry_centers', ids: chosenCenters })">Carry centers to aligned views</el-button>
        <el-button v-if="removable" @click="desk.removeSelected()">Remove</el-button>
      </div>
    </template>
    <ViewParticulars v-else-if="one?.kind === 'view'" :id="one.id" :key="one.id" />
    <component :is="panel" v-else-if="one?.kind === 'annotation'" :id="one.id" :key="one.id" v-on="kindOf === 'parts_list' ? { rows: () => $emit('rows') } : {}" />
    <TrailParticulars v-else-if="one?.kind === 'trail'" :view="one.view" :parts="one.parts" />
    <template v-else-if="curve">
      <h2>{{ shape }}</h2>
      <p class="quiet sub">{{ curve.visible ? 'visible' : 'hidden' }}{{ curve.edge_class === 'smooth' ? ', tangent' : '' }}</p>
      <dl>
        <dt>Belongs to</dt><dd>{{ feature ? feature.name : curve.feature }}</dd>
        <template v-if="feature?.says"><dt>Says</dt><dd>{{ feature.says }}</dd></template>
        <dt>Part</dt><dd>{{ curve.path }}</dd>
        <dt>In</dt><dd>{{ one?.kind === 'curve' ? VIEW_KINDS[desk.view(one.view)?.kind ?? 'main'] : '' }}</dd>
      </dl>
      <el-button data-test="size-this" @click="tools.start('size')">Size it</el-button>
      <FeatureSaying :instance="curve.path" :source="curve.source" />
    </template>
    <SheetParticulars v-else />
  </aside>
</template>

<style>
.particulars {
  width: 272px;
  flex: none;
  background: var(--panel);
  border-left: 1px solid var(--line);
  padding: 12px 16px;
  overflow: auto;
}
.particulars .sub {
  margin: 2px 0 10px;
}
.particulars .row {
  display: grid;
  grid-template-columns: 92px 1fr;
  align-items: center;
  min-height: 38px;
}
.particulars .row > label,
.particulars .row > .label {
  color: var(--quiet);
}
.particulars .el-radio-group {
  flex-wrap: nowrap;
}
.particulars .el-radio-button__inner {
  padding-left: 7px;
  padding-right: 7px;
}
.particulars .section {
  border-top: 1px solid var(--line);
  margin-top: 8px;
  padding-top: 8px;
}
.particulars dl {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 6px 0;
  margin: 0 0 12px;
}
.particulars dt {
  color: var(--quiet);
}
.particulars dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.particulars .choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.particulars .choices .el-button + .el-button {
  margin-left: 0;
}
.particulars .choices .on {
  background: var(--accent-ground);
  border-color: var(--light);
  color: var(--accent);
  font-weight: 600;
}
.particulars .said {
  font: 25px/34px 'osifont';
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--line);
  border-radius: 6px;
  text-align: center;
  padding: 4px;
  margin: 2px 0 8px;
}
</style>
