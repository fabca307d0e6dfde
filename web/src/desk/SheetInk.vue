<!-- The ink of a sheet: paper, frame, views and annotations. A component of its own, so that moving the paper does not draw it anew. -->
<script setup lang="ts">
import { computed } from 'vue'
import { useFindings } from './findings'
import { useDesk } from './store'
import UnderlaysInk from './UnderlaysInk.vue'

const props = defineProps<{
  width: number
  height: number
  zoom: number
  /** Where a view's own coordinates begin, as a transform. */
  at: (view: string) => string
  /** The annotation under the pointer. */
  hot: string
  /** A size that is shown in hand instead. */
  hidden: string
  /** A parts list being dragged, by how much, mm. */
  moved: { id: string; x: number; y: number } | null
}>()
const desk = useDesk()
const findings = useFindings()

const outerOf = (id: string) => desk.drawn?.outer.filter((o) => o.view === id) ?? []
const chosen = computed(() => new Set(desk.selected.flatMap((s) => (s.kind === 'annotation' ? [s.id] : []))))
const boxes = computed(() => new Map(desk.drawn?.boxes.map((b) => [b.id, b])))
/** Of what stands on the sheet by itself, so that all of it can be pointed at. */
const ground = (a: { id: string; view: string }) => (a.view ? undefined : boxes.value.get(a.id))
function transform(a: { id: string; view: string }): string {
  const by = props.moved?.id === a.id ? props.moved : { x: 0, y: 0 }
  return a.view ? props.at(a.view) : `translate(${by.x} ${props.height - by.y})`
}
const own = computed(() => new Set(desk.sheet?.annotations.flatMap((a) => ('wording' in a && a.wording.own ? [a.id] : [])) ?? []))
const causes = computed(() => {
  const one = desk.selected.length === 1 && desk.selected[0].kind === 'annotation' ? desk.selected[0].id : ''
  return new Set([...(desk.drawn?.annotations.find((a) => a.id === one)?.follows ?? []), ...desk.chained])
})
const kinds = computed(() => new Map(desk.sheet?.annotations.map((a) => [a.id, a.kind])))
const annotations = computed(() =>
  (desk.drawn?.annotations ?? []).map((a) => ({
    id: a.id, kind: kinds.value.get(a.id), below: a.below, svg: a.svg, at: transform(a), ground: ground(a), shown: a.id !== props.hidden,
    is: { hot: a.id === props.hot, on: chosen.value.has(a.id), follows: a.follows?.length, cause: causes.value.has(a.id), own: own.value.has(a.id), lost: !!a.lost, found: findings.lit.has(a.id) },
  })),
)
</script>

<template>
  <g v-if="desk.drawn">
    <rect class="paper" :width="width" :height="height" />
    <g v-if="desk.sheet?.grid" data-test="grid">
      <defs><pattern id="grid" :width="desk.sheet.grid" :height="desk.sheet.grid" :y="height % desk.sheet.grid" patternUnits="userSpaceOnUse"><path class="grid" :d="`M0 0H${desk.sheet.grid}M0 0V${desk.sheet.grid}`" :stroke-width="1 / zoom" /></pattern></defs>
      <rect :width="width" :height="height" fill="url(#grid)" />
    </g>
    <g :transform="`translate(0 ${height})`" v-html="desk.drawn.frame" />
    <UnderlaysInk :height="height" :zoom="zoom" :at="at" :moved="moved" />
    <g v-for="a in annotations.filter((o) => o.below && o.kind !== 'underlay')" v-show="a.shown" :key="a.id" class="annotation" :class="a.is" :transform="a.at" :data-annotation="a.id" :data-kind="a.kind"><g v-html="a.svg" /></g>
    <g v-for="v in desk.sheet?.views ?? []" :key="v.id" :transform="at(v.id)" :data-view="v.id">
      <g v-html="desk.inkOf(v.id)?.svg ?? ''" />
      <g v-for="o in outerOf(v.id)" :key="o.of" :data-of="o.of" v-html="o.svg" />
    </g>
    <g v-for="a in annotations.filter((o) => !o.below)" v-show="a.shown" :key="a.id" class="annotation" :class="a.is" :transform="a.at" :data-annotation="a.id" :data-kind="a.kind">
      <rect v-if="a.ground" class="ground" :x="a.ground.left" :y="-a.ground.bottom - a.ground.height" :width="a.ground.width" :height="a.ground.height" />
      <g v-html="a.svg" />
    </g>
  </g>
</template>

<style scoped>
.paper {
  fill: var(--paper);
}
.grid {
  fill: none;
  stroke: #dcd8ea;
}
.annotation .ground {
  fill: transparent;
}
[data-of] :deep(path.stroke),
[data-of] :deep(text) {
  cursor: move;
  pointer-events: all;
}
[data-of] :deep(path.stroke) {
  pointer-events: stroke;
}
.annotation :deep(*) {
  cursor: pointer;
  pointer-events: all;
}
.annotation :deep(path.stroke) {
  pointer-events: stroke;
}
.annotation.lost :deep(path.stroke) {
  stroke: #b3372f;
}
.annotation.lost :deep(path.fill),
.annotation.lost :deep(text) {
  fill: #b3372f;
}
.annotation.hot :deep(path.stroke) {
  stroke: #8469a9;
}
.annotation.hot :deep(path.fill),
.annotation.hot :deep(text) {
  fill: #8469a9;
}
.annotation.on :deep(path.stroke) {
  stroke: #6a4c93;
}
.annotation.on :deep(path.fill),
.annotation.on :deep(text) {
  fill: #6a4c93;
}
.annotation.follows :deep(text),
.annotation.own :deep(text) {
  fill: #a36a00;
}
.annotation.found :deep(path.stroke),
.annotation.cause :deep(path.stroke) {
  stroke: #c78a12;
}
.annotation.found :deep(path.fill),
.annotation.found :deep(text),
.annotation.cause :deep(path.fill),
.annotation.cause :deep(text) {
  fill: #a36a00;
}
</style>
