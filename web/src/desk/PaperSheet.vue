<script setup lang="ts">
// The sheet: paper with ink, and over it what the application says. Here is the camera, and who gets the pointer.
import { useEventListener, useResizeObserver, watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { fitted, toSheet, zoomed, type Camera } from './camera'
import { useAnnotationGrip } from './grips/annotationGrip'
import { useCenterEnds } from './grips/centerEndGrip'
import { useGhostGrip } from './grips/ghostGrip'
import { useGrips } from './grips/grip'
import { useMarkGrip } from './grips/markGrip'
import { useTrailGrip } from './grips/trailGrip'
import { useViewGrip } from './grips/viewGrip'
import { usePickTool } from './pickTool'
import { useUnderlays } from './underlays'
import NoteWriting from './NoteWriting.vue'
import PencilInk from './PencilInk.vue'
import type { XY } from './places'
import SheetInk from './SheetInk.vue'
import SheetMenu, { type MenuItem } from './SheetMenu.vue'
import { menuOf } from './sheetMenus'
import SheetOverlay from './SheetOverlay.vue'
import { useSizeTools } from './sizeTools'
import type { Spot } from './spots'
import { useDesk, type Selected } from './store'
import TitleCells from './TitleCells.vue'
import { useTools } from './tools'
import { useUnderPointer } from './underPointer'
import { useViewTools } from './viewTools'
import { useWriting } from './writing'

const desk = useDesk()
const tools = useTools()
const views = useViewTools()
const sizes = useSizeTools()
const pick = usePickTool()
const underlays = useUnderlays()
const writing = useWriting()
const emit = defineEmits<{ zoom: [zoom: number] }>()
const room = ref<HTMLDivElement>()
const camera = ref<Camera>({ zoom: 2, left: 0, top: 0 })
const zoom = computed(() => camera.value.zoom)
const hover = ref<Spot | null>(null)
const hoverAnnotation = computed({ get: () => desk.pointed, set: (id: string) => (desk.pointed = id) })
const { reach, viewAt, viewNear, sizedAt, spotAt, curveOf, partAt, annotationUnder, isSizing, isTrailing } = useUnderPointer(zoom)
/** A box swept over what a run takes in, sheet mm. */
const sweepBox = ref<{ from: XY; to: XY } | null>(null)
const menu = ref<{ x: number; y: number; title: string; items: MenuItem[] } | null>(null)
const spaceDown = ref(false)

const width = computed(() => desk.drawn?.width ?? 420)
const height = computed(() => desk.drawn?.height ?? 297)
const box = computed(() => `0 0 ${width.value} ${height.value}`)
const place = computed(() => ({
  width: `${width.value * zoom.value}px`, height: `${height.value * zoom.value}px`, transform: `translate(${camera.value.left}px, ${camera.value.top}px)`,
}))

/** Whether all of the sheet is shown: it stays so when the room changes; a place that was zoomed to stays as it is. */
let isFitted = true
function fit() {
  const r = room.value
  if (!r) return
  camera.value = fitted(width.value, height.value, r.clientWidth, r.clientHeight)
  isFitted = true
}
function fitView(id: string) {
  const v = desk.view(id)
  const ink = desk.inkOf(id)
  const r = room.value
  if (!v || !ink || !r) return
  const c = fitted(ink.high[0] - ink.low[0] + 30, ink.high[1] - ink.low[1] + 30, r.clientWidth, r.clientHeight)
  const x = v.position.x + ink.low[0] - 15
  const y = height.value - (v.position.y + ink.high[1] + 15)
  camera.value = { zoom: c.zoom, left: c.left - x * c.zoom, top: c.top - y * c.zoom }
  isFitted = false
}
defineExpose({ fit, camera })

// ---- what can be taken hold of -------------------------------------------------------------------------------------
const same = (a: Selected, b: Selected) => JSON.stringify(a) === JSON.stringify(b)
function choose(s: Selected, more: boolean) {
  if (!more) desk.selected = [s]
  else if (desk.selected.some((o) => same(o, s))) desk.selected = desk.selected.filter((o) => !same(o, s))
  else desk.selected = [...desk.selected, s]
}
const chooseView = (id: string, more: boolean) => choose({ kind: 'view', id }, more)
const annotations = useAnnotationGrip(annotationUnder, (id, more) => choose({ kind: 'annotation', id }, more))
const trails = useTrailGrip((trail, more) => choose({ kind: 'trail', ...trail }, more))
const dragged = useViewGrip(viewAt, chooseView)
const ends = useCenterEnds()
const grips = useGrips([
  useGhostGrip(viewAt),
  annotations.grip,
  useMarkGrip(chooseView),
  trails.grip,
  ({ at, more }) => {
    const spot = spotAt(at)
    if (spot) choose({ kind: 'curve', view: spot.view, curve: spot.curve }, more)
    return spot ? 'chosen' : null
  },
  dragged.grip,
])
const positionOf = (id: string): XY => dragged.dragged.value?.places.get(id) ?? desk.view(id)?.position ?? { x: 0, y: 0 }
const at = (id: string) => `translate(${positionOf(id).x} ${height.value - positionOf(id).y})`

// ---- pointer -----------------------------------------------------------------------------------------------------------
function windowPoint(event: MouseEvent): XY {
  const r = room.value!.getBoundingClientRect()
  return { x: event.clientX - r.left, y: event.clientY - r.top }
}
function sheetPoint(event: MouseEvent): XY {
  const p = windowPoint(event)
  return toSheet(camera.value, p.x, p.y, height.value)
}
const capture = (event: PointerEvent) => room.value!.setPointerCapture(event.pointerId)
let pan: XY | null = null

function down(event: PointerEvent) {
  menu.value = null
  if (event.button === 1 || (event.button === 0 && spaceDown.value)) {
    pan = windowPoint(event)
    capture(event)
    event.preventDefault()
    return
  }
  if (event.button !== 0 || writing.id) return // a click aside ends what is written, and is nothing else
  const p = sheetPoint(event)
  if (tools.tool !== 'select') return useTool(p, event)
  const found = grips.grab({ at: p, reach: reach.value, event, more: event.shiftKey })
  if (found === 'held') capture(event)
  else if (!found && !event.shiftKey) desk.selected = []
}
function useTool(p: XY, event: PointerEvent) {
  const over = viewNear(p)
  tools.move(p, isSizing.value ? sizedAt(p, event) : spotAt(p), over)
  if (isSizing.value && sizes.canSweep()) {
    grips.hold(sweeping(p))
    capture(event)
    return
  }
  void tools.click(over, event.shiftKey, annotationUnder(event))
}
/** A box over what a run takes in; a click where it is hardly moved. */
function sweeping(from: XY) {
  sweepBox.value = { from, to: from }
  const end = () => (sweepBox.value = null)
  return {
    move: (to: XY) => (sweepBox.value = { from, to }),
    drop: async (event: PointerEvent) => {
      const { to } = sweepBox.value!
      end()
      if (Math.hypot(to.x - from.x, to.y - from.y) * zoom.value < 4) await tools.click(viewNear(from), event.shiftKey, annotationUnder(event))
      else await sizes.sweep(from, to)
    },
    cancel: end,
  }
}

function move(event: PointerEvent) {
  if (pan) {
    const p = windowPoint(event)
    camera.value = { ...camera.value, left: camera.value.left + p.x - pan.x, top: camera.value.top + p.y - pan.y }
    pan = p
    isFitted = false
    return
  }
  const p = sheetPoint(event)
  if (grips.held.value) return grips.held.value.move(p)
  hoverAnnotation.value = tools.tool === 'select' || tools.tool === 'brush' ? annotationUnder(event) : ''
  hover.value = hoverAnnotation.value ? null : isSizing.value ? sizedAt(p, event) : spotAt(p)
  const edge = hover.value && curveOf(hover.value)
  desk.pointedEdge = edge && hover.value ? { path: desk.hitOf(hover.value.view)?.geometry.instances[edge.instance] ?? '', source: edge.source } : null
  tools.move(p, hover.value, tools.tool === 'select' || (isSizing.value && !isTrailing.value) ? null : viewNear(p))
}
function grabEnd(event: PointerEvent, end: number) {
  const held = ends.grab(end)
  if (!held) return
  grips.hold(held)
  capture(event)
}
async function up(event: PointerEvent) {
  pan = null
  await grips.drop(event)
}
function leave() {
  hover.value = null
  desk.pointedEdge = null
  hoverAnnotation.value = ''
}
function wheel(event: WheelEvent) {
  const p = windowPoint(event)
  camera.value = zoomed(camera.value, p.x, p.y, Math.exp(-event.deltaY * 0.0015))
  isFitted = false
}

const title = ref<InstanceType<typeof TitleCells>>()
function double(event: MouseEvent) {
  if (tools.tool !== 'select') return
  const p = sheetPoint(event)
  // the first click captured the pointer, so the event itself does not tell what lies here
  const here = document.elementFromPoint(event.clientX, event.clientY)?.closest('[data-annotation]')
  const words = desk.annotation(here?.getAttribute('data-annotation') ?? '')
  if (words?.kind === 'note') return writing.open(words.id)
  const view = viewAt(p, 4)
  if (view) fitView(view)
  else if (!title.value?.open(p.x, p.y)) fit()
}
function openMenu(event: MouseEvent) {
  const p = sheetPoint(event)
  const spot = spotAt(p)
  const { title, items } = menuOf({ annotation: annotationUnder(event), view: viewAt(p, 6), spot, part: partAt(p, spot) }, { fit, fitView })
  const q = windowPoint(event)
  menu.value = { x: Math.min(q.x, room.value!.clientWidth - 210), y: Math.max(8, Math.min(q.y, room.value!.clientHeight - 36 * items.length - 40)), title, items }
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.code === 'Space' && tools.tool === 'select') spaceDown.value = true
  if (event.key !== 'Escape') return
  menu.value = null
  if (grips.cancel()) event.stopImmediatePropagation()
}, true)
useEventListener(window, 'keyup', (event: KeyboardEvent) => {
  if (event.code === 'Space') spaceDown.value = false
})
useResizeObserver(room, () => isFitted && fit())
watch([width, height, () => desk.drawing?.id], fit)
watchDebounced([camera, () => desk.drawn], () => {
  const r = room.value
  if (!r || !underlays.all().length) return
  const low = toSheet(camera.value, 0, r.clientHeight, height.value)
  const high = toSheet(camera.value, r.clientWidth, 0, height.value)
  void underlays.look({ left: low.x, bottom: low.y, right: high.x, top: high.y })
}, { debounce: 150, immediate: true, deep: true })
watch(zoom, (z) => {
  emit('zoom', z)
  views.snapReach = pick.reach = reach.value
}, { immediate: true })
const cursor = computed(() => (spaceDown.value ? 'grab' : tools.tool !== 'select' ? 'crosshair' : dragged.dragged.value ? 'move' : 'default'))
</script>

<template>
  <div
    ref="room" class="room" :style="{ cursor }" data-test="paper" :data-zoom="camera.zoom" :data-left="camera.left" :data-top="camera.top" :data-height="height"
    @pointerdown="down" @pointermove="move" @pointerup="up" @pointercancel="up" @pointerleave="leave" @wheel.prevent="wheel" @dblclick="double" @contextmenu.prevent="openMenu"
  >
    <svg v-if="desk.drawn" class="layer ink" :style="place" :viewBox="box">
      <SheetInk :height="height" :width="width" :zoom="zoom" :at="at" :hot="hoverAnnotation" :hidden="annotations.preview.value ? annotations.dragged.value : ''" :moved="annotations.moved.value" />
    </svg>
    <svg v-if="desk.drawn" class="layer over" :style="place" :viewBox="box">
      <SheetOverlay
        :height="height" :zoom="zoom" :at="at" :hover="hover" :dragged="dragged.dragged.value?.id ?? ''" :dragging="annotations.preview.value" :trails="trails.chosen.value"
        :ends="ends.ends.value" :sweep="sweepBox" @end="grabEnd"
      />
      <PencilInk :height="height" :zoom="zoom" :at="at" />
    </svg>
    <p v-if="!desk.drawn && !desk.problem" class="loading quiet">Opening the drawing …</p>
    <TitleCells ref="title" :camera="camera" :height="height" />
    <NoteWriting v-if="writing.id" :room="room!" :zoom="zoom" />
    <SheetMenu v-if="menu" v-bind="menu" @close="menu = null" />
  </div>
</template>

<style scoped>
.room {
  position: relative;
  overflow: hidden;
  flex: 1;
  min-width: 0;
  touch-action: none;
  user-select: none;
}
.layer {
  position: absolute;
  left: 0;
  top: 0;
  transform-origin: 0 0;
  will-change: transform;
  overflow: visible;
}
.ink {
  filter: none;
  box-shadow: var(--shadow);
}
.over {
  pointer-events: none;
}
.layer :deep(path.stroke) {
  fill: none;
  stroke: var(--ink);
  stroke-linecap: round;
  stroke-linejoin: round;
}
.layer :deep(path.fill) {
  fill: var(--ink);
}
.layer :deep(text) {
  font-family: 'osifont', 'DejaVu Sans';
  fill: var(--ink);
  white-space: pre;
}
.loading {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  margin: 0;
}
</style>
