<script setup lang="ts">
// The sheet: paper with ink, over it what is lit, selected or in hand. The ink layer is only moved while panning, never redrawn.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { fitted, toSheet, zoomed, type Camera } from './camera'
import { pathOf } from './curves'
import { isShown } from './hit'
import { moved, onGrid, type XY } from './places'
import { useCenterEnds } from './centerEnds'
import { menuOf } from './sheetMenus'
import SheetInk from './SheetInk.vue'
import TitleCells from './TitleCells.vue'
import SheetMenu, { type MenuItem } from './SheetMenu.vue'
import { useCenterTools } from './centerTools'
import { useDesk, type Selected } from './store'
import { usePartTools } from './partTools'
import { useMarkDrag } from './markDrag'
import { useSizeDrag } from './sizeDrag'
import { useTrails } from './trails'
import { SIZE_TOOLS, useSizeTools } from './sizeTools'
import { useTools, type Spot } from './tools'
import { useUnderPointer } from './underPointer'
import { useViewTools } from './viewTools'

const desk = useDesk()
const tools = useTools()
const views = useViewTools()
const centers = useCenterTools()
const sizes = useSizeTools()
const parts = usePartTools()
const trails = useTrails()
const emit = defineEmits<{ zoom: [zoom: number] }>()
const room = ref<HTMLDivElement>()
const camera = ref<Camera>({ zoom: 2, left: 0, top: 0 })
const hover = ref<Spot | null>(null)
const hoverAnnotation = computed({ get: () => desk.pointed, set: (id: string) => (desk.pointed = id) })
const drag = ref<{ id: string; grab: XY; places: Map<string, XY> } | null>(null)
const { reach, shown, viewAt, viewNear, sizedAt, spotAt, partAt, curveOf, annotationUnder } = useUnderPointer(computed(() => camera.value.zoom))
const { sizeDrag, grabSize, dragSize, dropSize } = useSizeDrag()
const { markDrag, grabMark, dragMark, dropMark } = useMarkDrag()
/** A free parts list being dragged: from where, and by how much, sheet mm. */
const listDrag = ref<{ id: string; from: XY; by: XY } | null>(null)
/** A box swept over what a run takes in, sheet mm. */
const sweepBox = ref<{ from: XY; to: XY } | null>(null)
const menu = ref<{ x: number; y: number; title: string; items: MenuItem[] } | null>(null)
const spaceDown = ref(false)
let pan: { x: number; y: number } | null = null
let watcher: ResizeObserver | undefined

const width = computed(() => desk.drawn?.width ?? 420)
const height = computed(() => desk.drawn?.height ?? 297)
const box = computed(() => `0 0 ${width.value} ${height.value}`)
const size = computed(() => ({ width: `${width.value * camera.value.zoom}px`, height: `${height.value * camera.value.zoom}px` }))
const place = computed(() => ({ ...size.value, transform: `translate(${camera.value.left}px, ${camera.value.top}px)` }))

function fit() {
  const r = room.value
  if (r) camera.value = fitted(width.value, height.value, r.clientWidth, r.clientHeight)
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
}
defineExpose({ fit, camera })

const positionOf = (id: string): XY => drag.value?.places.get(id) ?? desk.view(id)?.position ?? { x: 0, y: 0 }
const at = (id: string) => `translate(${positionOf(id).x} ${height.value - positionOf(id).y})`
// ---- what is under the pointer -------------------------------------------------------------------------------------
function windowPoint(event: MouseEvent): XY {
  const r = room.value!.getBoundingClientRect()
  return { x: event.clientX - r.left, y: event.clientY - r.top }
}
function sheetPoint(event: MouseEvent): XY {
  const p = windowPoint(event)
  return toSheet(camera.value, p.x, p.y, height.value)
}
const sizing = computed(() => (SIZE_TOOLS as string[]).includes(tools.tool))
// ---- lighting up -----------------------------------------------------------------------------------------------------
/** The same feature in every view. */
const lit = computed(() => {
  const c = hover.value && curveOf(hover.value)
  if (!c || !desk.sheet) return []
  return desk.sheet.views.flatMap((v) => {
    const index = desk.hitOf(v.id)
    if (!index) return []
    const same = index.geometry.curves.filter((o) => o.instance === c.instance && o.feature === c.feature && isShown(o, shown(v.id)))
    return same.length ? [{ id: v.id, path: pathOf(same, desk.scaleOf(v)) }] : []
  })
})
const marked = computed(() => {
  const spots = [...tools.picks, ...centers.picks, ...desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))]
  if (hover.value && tools.tool !== 'main' && tools.tool !== 'set' && tools.tool !== 'projected') spots.push(hover.value)
  return spots.flatMap((s) => {
    const c = curveOf(s)
    const v = desk.view(s.view)
    return c && v ? [{ id: s.view, path: pathOf([c], desk.scaleOf(v)) }] : []
  })
})
const frames = computed(() =>
  (desk.sheet?.views ?? []).flatMap((v) => {
    const ink = desk.inkOf(v.id)
    const on = desk.selected.some((s) => s.kind === 'view' && s.id === v.id)
    const from = views.parent === v.id
    if (!ink || !(on || from || drag.value?.id === v.id)) return []
    return [{ id: v.id, x: ink.low[0] - 4, y: -ink.high[1] - 4, width: ink.high[0] - ink.low[0] + 8, height: ink.high[1] - ink.low[1] + 8 }]
  }),
)
const ghosts = computed(() =>
  views.ghosts.map((g) => {
    const curves = g.geometry?.geometry.curves.filter((c) => c.visible && c.edge_class !== 'smooth') ?? []
    return { id: g.id, at: `translate(${g.at.x} ${height.value - g.at.y})`, path: pathOf(curves, g.scale), waiting: !g.geometry }
  }),
)
const sketch = computed(() => {
  const s = views.sketch
  if (!s) return null
  const y = (v: number) => height.value - v
  const path = s.path.map((p, i) => `${i ? 'L' : 'M'}${p.x} ${y(p.y)}`).join('') + (s.closed && s.path.length ? 'Z' : '')
  return { path, circle: s.circle && { x: s.circle.c.x, y: y(s.circle.c.y), r: s.circle.r }, box: s.box && { x: s.box.c.x - s.box.w, y: y(s.box.c.y) - s.box.h, width: 2 * s.box.w, height: 2 * s.box.h } }
})
const caught = computed(() => (views.snap && views.snap.kind !== 'free' ? { x: views.snap.at.x, y: height.value - views.snap.at.y, kind: views.snap.kind } : null))
const inHand = computed(() => {
  if (centers.preview) return { view: centers.preview.view, svg: centers.preview.svg }
  if (sizes.runPreview) return sizes.runPreview
  if (parts.preview) return { view: parts.preview.balloon.view, svg: parts.preview.svg }
  const p = sizeDrag.value?.preview ?? tools.preview
  return p ? { view: p.annotation.view, svg: p.svg } : null
})
const boxesOfWarned = computed(() => (desk.lookingAtWarnings ? [...new Set(desk.drawn?.warnings.flatMap((w) => w.views) ?? [])].filter((id) => desk.inkOf(id)) : []))
function warnedBox(id: string) {
  const ink = desk.inkOf(id)!
  return { x: ink.low[0], y: -ink.high[1], width: ink.high[0] - ink.low[0], height: ink.high[1] - ink.low[1] }
}
const stroke = (pixels: number) => pixels / camera.value.zoom
/** Points in hand and under the pointer, and axes: sheet mm, y down. */
const pointMarks = computed(() =>
  [...sizes.picks, ...(hover.value?.point && sizing.value ? [hover.value] : [])].flatMap((s) => {
    const v = desk.view(s.view)
    return s.point && v ? [{ x: v.position.x + s.at.x * desk.scaleOf(v), y: height.value - v.position.y - s.at.y * desk.scaleOf(v), kind: s.point.kind }] : []
  }),
)
const swept = computed(() => {
  const b = sweepBox.value
  return b && { x: Math.min(b.from.x, b.to.x), y: height.value - Math.max(b.from.y, b.to.y), width: Math.abs(b.to.x - b.from.x), height: Math.abs(b.to.y - b.from.y) }
})

// ---- pointer -----------------------------------------------------------------------------------------------------------
function down(event: PointerEvent) {
  menu.value = null
  if (event.button === 1 || (event.button === 0 && spaceDown.value)) {
    pan = windowPoint(event)
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    event.preventDefault()
    return
  }
  if (event.button !== 0) return
  const p = sheetPoint(event)
  if (tools.tool !== 'select') {
    const over = viewNear(p)
    tools.move(p, sizing.value ? sizedAt(p, event) : spotAt(p), over)
    if (sizing.value && tools.tool !== 'size' && sizes.picks.length) {
      sweepBox.value = { from: p, to: p }
      ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
      return
    }
    void tools.click(over, event.shiftKey, annotationUnder(event))
    return
  }
  const id = annotationUnder(event)
  if (id && desk.annotation(id) && !('place' in desk.annotation(id)!)) return choose({ kind: 'annotation', id }, event.shiftKey)
  if (id) {
    choose({ kind: 'annotation', id }, event.shiftKey)
    grabSize(id, p, (event.target as Element).tagName === 'text')
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    return
  }
  const list = (event.target as Element | null)?.closest?.('[data-list]')?.getAttribute('data-list')
  if (list) {
    choose({ kind: 'list', id: list }, event.shiftKey)
    if (!desk.sheet?.parts_lists?.find((l) => l.id === list)?.attached) {
      listDrag.value = { id: list, from: p, by: { x: 0, y: 0 } }
      ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    }
    return
  }
  const mark = (event.target as Element | null)?.closest?.('[data-of]')
  const of = mark?.getAttribute('data-of') ?? ''
  if (grabMark(of, p, reach.value, event.altKey)) {
    choose({ kind: 'view', id: of }, event.shiftKey)
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    return
  }
  const trail = trails.at(p, reach.value)
  if (trail) {
    choose({ kind: 'trail', ...trail }, event.shiftKey)
    trails.grab(trail, p)
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    return
  }
  const spot = spotAt(p)
  if (spot) return choose({ kind: 'curve', view: spot.view, curve: spot.curve }, event.shiftKey)
  const view = viewAt(p, 6)
  if (!view) {
    if (!event.shiftKey) desk.selected = []
    return
  }
  choose({ kind: 'view', id: view }, event.shiftKey)
  const v = desk.view(view)!
  drag.value = { id: view, grab: { x: p.x - v.position.x, y: p.y - v.position.y }, places: new Map() }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}

const same = (a: Selected, b: Selected) => JSON.stringify(a) === JSON.stringify(b)
function choose(s: Selected, more: boolean) {
  if (!more) desk.selected = [s]
  else if (desk.selected.some((o) => same(o, s))) desk.selected = desk.selected.filter((o) => !same(o, s))
  else desk.selected = [...desk.selected, s]
}

function move(event: PointerEvent) {
  if (pan) {
    const p = windowPoint(event)
    camera.value = { ...camera.value, left: camera.value.left + p.x - pan.x, top: camera.value.top + p.y - pan.y }
    pan = p
    return
  }
  const p = sheetPoint(event)
  if (drag.value && desk.sheet) {
    const v = desk.view(drag.value.id)
    if (v) drag.value = { ...drag.value, places: moved(desk.sheet, v, onGrid({ x: p.x - drag.value.grab.x, y: p.y - drag.value.grab.y }, desk.sheet.grid)) }
    return
  }
  if (sweepBox.value) {
    sweepBox.value = { ...sweepBox.value, to: p }
    return
  }
  if (listDrag.value) {
    listDrag.value = { ...listDrag.value, by: { x: p.x - listDrag.value.from.x, y: p.y - listDrag.value.from.y } }
    return
  }
  if (trails.drag(p)) return
  if (endDrag.value) return dragEnd(p)
  if (markDrag.value) return dragMark(p)
  if (sizeDrag.value) return dragSize(p)
  hoverAnnotation.value = tools.tool === 'select' || tools.tool === 'brush' ? annotationUnder(event) : ''
  hover.value = hoverAnnotation.value ? null : sizing.value ? sizedAt(p, event) : spotAt(p)
  tools.move(p, hover.value, tools.tool === 'select' || sizing.value ? null : viewNear(p))
}

const { ends, endDrag, grabEnd: grab, dragEnd, dropEnd } = useCenterEnds()
function grabEnd(event: PointerEvent, end: number) {
  if (grab(end)) room.value!.setPointerCapture(event.pointerId)
}

async function up(event: PointerEvent) {
  pan = null
  const over = document.elementFromPoint(event.clientX, event.clientY)?.closest('[data-strip-sheet]')?.getAttribute('data-strip-sheet')
  if (endDrag.value) return dropEnd()
  if (listDrag.value) {
    const { id, by } = listDrag.value
    const at = desk.sheet?.parts_lists?.find((l) => l.id === id)?.position
    if (at && Math.hypot(by.x, by.y) > 0.5) await desk.edit({ command: 'change_parts_list', id, position: { x: at.x + by.x, y: at.y + by.y } })
    listDrag.value = null
    return
  }
  if (trails.held()) return trails.drop()
  if (sweepBox.value) {
    const { from, to } = sweepBox.value
    sweepBox.value = null
    if (Math.hypot(to.x - from.x, to.y - from.y) * camera.value.zoom < 4) await tools.click(viewNear(from), event.shiftKey, annotationUnder(event))
    else await sizes.sweep(from, to)
    return
  }
  if (drag.value && over && over !== desk.sheet?.id) {
    const { id } = drag.value
    drag.value = null
    await desk.edit({ command: 'move_to_sheet', view: id, sheet: over })
  }
  if (drag.value) {
    const { id, places } = drag.value
    const to = places.get(id)
    const from = desk.view(id)?.position
    if (to && from && Math.hypot(to.x - from.x, to.y - from.y) > 0.2) await desk.edit({ command: 'move_view', view: id, position: to })
    drag.value = null
  }
  if (markDrag.value) await dropMark()
  if (sizeDrag.value) await dropSize()
}

/** Esc while something is dragged: all of it stays where it was. */
function letGo(): boolean {
  const held = drag.value || listDrag.value || sizeDrag.value || markDrag.value || endDrag.value || sweepBox.value || trails.held()
  if (markDrag.value) views.show(null)
  drag.value = listDrag.value = sizeDrag.value = markDrag.value = endDrag.value = sweepBox.value = null
  trails.letGo()
  return !!held
}

function leave() {
  hover.value = null
  hoverAnnotation.value = ''
}

function wheel(event: WheelEvent) {
  const p = windowPoint(event)
  camera.value = zoomed(camera.value, p.x, p.y, Math.exp(-event.deltaY * 0.0015))
}

const title = ref<InstanceType<typeof TitleCells>>()
function double(event: MouseEvent) {
  const p = sheetPoint(event)
  const view = viewAt(p, 4)
  if (tools.tool === 'select') {
    if (!view && title.value?.open(p.x, p.y)) return
    if (view) fitView(view)
    else fit()
  }
}

function openMenu(event: MouseEvent) {
  const p = sheetPoint(event)
  const spot = spotAt(p)
  const { title, items } = menuOf({ annotation: annotationUnder(event), view: viewAt(p, 6), spot, part: partAt(p, spot) }, { fit, fitView })
  const q = windowPoint(event)
  menu.value = { x: Math.min(q.x, room.value!.clientWidth - 210), y: Math.max(8, Math.min(q.y, room.value!.clientHeight - 36 * items.length - 40)), title, items }
}

function keyDown(event: KeyboardEvent) {
  if (event.code === 'Space' && tools.tool === 'select') spaceDown.value = true
  if (event.key !== 'Escape') return
  menu.value = null
  if (letGo()) event.stopImmediatePropagation()
}
function keyUp(event: KeyboardEvent) {
  if (event.code === 'Space') spaceDown.value = false
}

onMounted(() => {
  watcher = new ResizeObserver(() => fit())
  watcher.observe(room.value!)
  window.addEventListener('keydown', keyDown, true)
  window.addEventListener('keyup', keyUp)
})
onBeforeUnmount(() => {
  watcher?.disconnect()
  window.removeEventListener('keydown', keyDown, true)
  window.removeEventListener('keyup', keyUp)
})
watch([width, height, () => desk.drawing?.id], fit)
watch(
  () => camera.value.zoom,
  (z) => {
    emit('zoom', z)
    views.snapReach = reach.value
    centers.reach = reach.value
  },
  { immediate: true },
)
const cursor = computed(() => (spaceDown.value ? 'grab' : tools.tool !== 'select' ? 'crosshair' : drag.value ? 'move' : 'default'))
</script>

<template>
  <div
    ref="room" class="room" :style="{ cursor }" data-test="paper" :data-zoom="camera.zoom" :data-left="camera.left" :data-top="camera.top" :data-height="height"
    @pointerdown="down" @pointermove="move" @pointerup="up" @pointercancel="up" @pointerleave="leave" @wheel.prevent="wheel" @dblclick="double" @contextmenu.prevent="openMenu"
  >
    <svg v-if="desk.drawn" class="layer ink" :style="place" :viewBox="box">
      <SheetInk :height="height" :width="width" :zoom="camera.zoom" :at="at" :hot="hoverAnnotation" :hidden="sizeDrag?.preview ? sizeDrag.id : ''" :moved="listDrag ? { id: listDrag.id, ...listDrag.by } : null" />
    </svg>
    <svg v-if="desk.drawn" class="layer over" :style="place" :viewBox="box">
      <g v-for="l in lit" :key="`l${l.id}`" :transform="at(l.id)"><path class="lit" :d="l.path" :stroke-width="stroke(4)" /></g>
      <g v-for="(m, i) in marked" :key="`m${i}`" :transform="at(m.id)"><path class="mark" :d="m.path" :stroke-width="stroke(2)" /></g>
      <g v-for="t in trails.chosen.value" :key="`t${t.id}`" :transform="at(t.id)" data-test="chosen-trail"><path class="mark" :d="t.path" :stroke-width="stroke(2)" /></g>
      <g v-for="f in frames" :key="`f${f.id}`" :transform="at(f.id)">
        <rect class="frame" :x="f.x" :y="f.y" :width="f.width" :height="f.height" :stroke-width="stroke(1.2)" rx="1" />
      </g>
      <g v-for="v in (desk.drawn.views ?? []).filter((s) => s.state !== 'ready')" :key="`w${v.id}`" :transform="at(v.id)">
        <text class="say" :class="{ bad: v.state === 'failed' }" text-anchor="middle" :font-size="stroke(13)">
          {{ v.state === 'failed' ? v.error : v.state === 'rough' ? 'rough; the exact view follows …' : 'deriving the view …' }}
        </text>
      </g>
      <g v-for="g in ghosts" :key="`g${g.id}`" :transform="g.at" data-test="ghost">
        <path class="ghost" :d="g.path" :stroke-width="stroke(1.4)" />
        <text v-if="g.waiting" class="say" text-anchor="middle" :font-size="stroke(13)">deriving …</text>
      </g>
      <g v-for="(m, i) in views.marks" :key="`k${i}`" class="in-hand" :transform="at(m.view)" v-html="m.svg" />
      <g v-if="sketch" data-test="sketch">
        <path class="mark" :d="sketch.path" :stroke-width="stroke(1.6)" />
        <circle v-if="sketch.circle" class="mark" :cx="sketch.circle.x" :cy="sketch.circle.y" :r="sketch.circle.r" :stroke-width="stroke(1.6)" />
        <rect v-if="sketch.box" class="mark" v-bind="sketch.box" :stroke-width="stroke(1.6)" />
      </g>
      <g v-if="caught" :transform="`translate(${caught.x} ${caught.y})`" :data-caught="caught.kind">
        <circle v-if="caught.kind === 'center'" class="mark" :r="stroke(5)" :stroke-width="stroke(1.6)" />
        <path v-else class="mark" :d="caught.kind === 'level' ? `M${-stroke(5)} 0H${stroke(5)}M0 ${-stroke(5)}V${stroke(5)}` : `M${-stroke(4)} ${-stroke(4)}H${stroke(4)}V${stroke(4)}H${-stroke(4)}Z`" :stroke-width="stroke(1.6)" />
      </g>
      <g v-for="(m, i) in pointMarks" :key="`q${i}`" :transform="`translate(${m.x} ${m.y})`" :data-point="m.kind">
        <circle v-if="m.kind === 'center'" class="mark" :r="stroke(5)" :stroke-width="stroke(1.6)" />
        <path v-else-if="m.kind === 'sharp corner' || m.kind === 'crossing'" class="mark" :d="`M${-stroke(5)} ${-stroke(5)}L${stroke(5)} ${stroke(5)}M${-stroke(5)} ${stroke(5)}L${stroke(5)} ${-stroke(5)}`" :stroke-width="stroke(1.6)" />
        <path v-else class="mark" :d="`M${-stroke(4)} ${-stroke(4)}H${stroke(4)}V${stroke(4)}H${-stroke(4)}Z`" :stroke-width="stroke(1.6)" />
      </g>
      <rect v-if="swept" class="swept" v-bind="swept" :stroke-width="stroke(1.2)" data-test="swept" />
      <g v-for="w in boxesOfWarned" :key="`o${w}`" :transform="at(w)"><rect class="warned" v-bind="warnedBox(w)" :stroke-width="stroke(1.2)" /></g>
 <g v-for="h in ends" :key="`e${h.end}`" :transform="at(h.view)">
        <line v-if="h.to" class="mark" :x1="h.x" :y1="-h.y" :x2="h.to.x" :y2="-h.to.y" :stroke-width="stroke(1.6)" />
        <circle class="end" :cx="h.to?.x ?? h.x" :cy="-(h.to?.y ?? h.y)" :r="stroke(5)" :stroke-width="stroke(1.5)" :data-end="h.end" @pointerdown.stop="grabEnd($event, h.end)" />
      </g>
      <g v-if="inHand" class="in-hand" :transform="at(inHand.view)" data-test="in-hand" v-html="inHand.svg" />
    </svg>
    <p v-if="!desk.drawn && !desk.problem" class="loading quiet">Opening the drawing …</p>
    <TitleCells ref="title" :camera="camera" :height="height" />
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
.end {
  fill: var(--paper);
  stroke: #6a4c93;
  cursor: move;
  pointer-events: all;
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
  font-family: 'osifont';
  fill: var(--ink);
  white-space: pre;
}
.swept {
  fill: #6a4c93;
  fill-opacity: 0.08;
  stroke: #6a4c93;
}
.lit {
  fill: none;
  stroke: #b497d6;
  stroke-opacity: 0.55;
  stroke-linecap: round;
}
.mark {
  fill: none;
  stroke: #6a4c93;
  stroke-linecap: round;
}
.frame {
  fill: none;
  stroke: #b497d6;
  stroke-dasharray: none;
}
.ghost {
  fill: none;
  stroke: #6a4c93;
  stroke-opacity: 0.75;
}
.warned {
  fill: #c78a12;
  fill-opacity: 0.12;
  stroke: #c78a12;
}
.in-hand :deep(path.stroke) {
  stroke: #6a4c93;
}
.in-hand :deep(path.fill),
.in-hand :deep(text) {
  fill: #6a4c93;
}
.over .say {
  font-family: 'Source Sans 3', sans-serif;
  fill: #6e6a62;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 0.25em;
  stroke-linejoin: round;
}
.over .say.bad {
  fill: #b3372f;
}
.loading {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  margin: 0;
}
</style>
