<!-- What the application says over the paper: what is lit, marked, in hand, proposed or warned of. Never printed. -->
<script setup lang="ts">
import { computed, watch } from 'vue'
import { SWAY, useCompleteness } from './completeness'
import { useFindings } from './findings'
import { useModelSizes } from './modelSizes'
import { pathOf } from './curves'
import { isShown } from './hit'
import { usePickTool } from './pickTool'
import { useWriting } from './writing'
import type { XY } from './places'
import { useSizeTools } from './sizeTools'
import type { Spot } from './spots'
import { useDesk } from './store'
import { useTools } from './tools'
import { useUnderPointer } from './underPointer'
import { useViewTools } from './viewTools'

const props = defineProps<{
  height: number
  zoom: number
  /** Where a view's own coordinates begin, as a transform. */
  at: (view: string) => string
  hover: Spot | null
  /** The view in hand. */
  dragged: string
  /** An annotation in hand, as the core draws it. */
  dragging: { view: string; svg: string } | null
  trails: { id: string; path: string }[]
  ends: { end: number; view: string; x: number; y: number; to: XY | null }[]
  /** A box being swept, sheet mm. */
  sweep: { from: XY; to: XY } | null
}>()
const emit = defineEmits<{ end: [event: PointerEvent, end: number] }>()
const desk = useDesk()
const model = useModelSizes()
const said = useCompleteness()
const findings = useFindings()
const tools = useTools()
const views = useViewTools()
const sizes = useSizeTools()
const pick = usePickTool()
const writing = useWriting()
const { shown, curveOf, isSizing } = useUnderPointer(computed(() => props.zoom))

const stroke = (pixels: number) => pixels / props.zoom
/** The same feature in every view. */
const lit = computed(() => {
  const c = props.hover && curveOf(props.hover)
  if (!c || !desk.sheet) return []
  return desk.sheet.views.flatMap((v) => {
    const index = desk.hitOf(v.id)
    if (!index) return []
    const feature = desk.featureAt(index.geometry.instances[c.instance], c.source)?.id
    const belongs = (o: typeof c) => (feature ? desk.featureAt(index.geometry.instances[o.instance], o.source)?.id === feature : o.feature === c.feature)
    const same = index.geometry.curves.filter((o) => o.instance === c.instance && belongs(o) && isShown(o, shown(v.id)))
    return same.length ? [{ id: v.id, path: pathOf(same, desk.scaleOf(v)) }] : []
  })
})
const marked = computed(() => {
  const spots: { view: string; curve: number }[] = [...sizes.picks, ...pick.picks, ...desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))]
  if (props.hover && !['main', 'set', 'projected'].includes(tools.tool)) spots.push(props.hover)
  return spots.flatMap((s) => {
    const c = curveOf(s)
    const home = desk.homes.find((h) => h.id === s.view)
    return c && home ? [{ id: s.view, path: pathOf([c], home.scale) }] : []
  })
})
const frames = computed(() =>
  (desk.sheet?.views ?? []).flatMap((v) => {
    const ink = desk.inkOf(v.id)
    const on = desk.selected.some((s) => s.kind === 'view' && s.id === v.id)
    if (!ink || !(on || views.parent === v.id || props.dragged === v.id)) return []
    return [{ id: v.id, x: ink.low[0] - 4, y: -ink.high[1] - 4, width: ink.high[0] - ink.low[0] + 8, height: ink.high[1] - ink.low[1] + 8 }]
  }),
)
const ghosts = computed(() =>
  views.ghosts.map((g) => {
    const curves = g.geometry?.geometry.curves.filter((c) => c.visible && c.edge_class !== 'smooth') ?? []
    return { id: g.id, at: `translate(${g.at.x} ${props.height - g.at.y})`, path: pathOf(curves, g.scale), waiting: !g.geometry }
  }),
)
const sketch = computed(() => {
  const s = views.sketch
  if (!s) return null
  const y = (v: number) => props.height - v
  const path = s.path.map((p, i) => `${i ? 'L' : 'M'}${p.x} ${y(p.y)}`).join('') + (s.closed && s.path.length ? 'Z' : '')
  return { path, circle: s.circle && { x: s.circle.c.x, y: y(s.circle.c.y), r: s.circle.r }, box: s.box && { x: s.box.c.x - s.box.w, y: y(s.box.c.y) - s.box.h, width: 2 * s.box.w, height: 2 * s.box.h } }
})
const caught = computed(() => (views.snap && views.snap.kind !== 'free' ? { x: views.snap.at.x, y: props.height - views.snap.at.y, kind: views.snap.kind } : null))
const inHand = computed(() => props.dragging ?? writing.pending ?? pick.preview ?? sizes.preview)
/** Boxes of what is warned of, and of the finding that is chosen: views about their positions, tables on the sheet. */
const warned = computed(() => {
  const ids = desk.lookingAtWarnings ? (desk.drawn?.warnings.flatMap((w) => w.views) ?? []) : []
  return [...new Set([...ids, ...findings.lit])].flatMap((id) => {
    const ink = desk.inkOf(id)
    if (ink) return [{ id, view: id, x: ink.low[0], y: -ink.high[1], width: ink.high[0] - ink.low[0], height: ink.high[1] - ink.low[1] }]
    const b = desk.drawn?.boxes.find((o) => o.id === id)
    return b ? [{ id, view: '', x: b.left, y: -b.bottom - b.height, width: b.width, height: b.height }] : []
  })
})
/** What is not said: its outline, swaying where it is pointed at, and a small double arrow along which it may still move. */
const unsaid = computed(() => {
  if (!said.lighting) return []
  const long = Math.max(stroke(9), 2.5)
  const tip = Math.max(stroke(3), 0.8)
  return said.lit.map((l) => {
    const { x, y } = l.way ?? { x: 0, y: 0 }
    const arrow = l.way ? [1, -1].map((s) => `M${l.at.x} ${l.at.y}l${s * x * long} ${s * y * long}l${-s * x * tip - y * tip * 0.6} ${-s * y * tip + x * tip * 0.6}m${y * tip * 1.2} ${-x * tip * 1.2}l${s * x * tip - y * tip * 0.6} ${s * y * tip + x * tip * 0.6}`).join('') : ''
    const style = { '--x': `${x * SWAY}px`, '--y': `${y * SWAY}px`, '--grow': `${1 + SWAY / Math.max(l.reach, SWAY)}`, transformOrigin: `${l.at.x}px ${l.at.y}px` }
    return { ...l, arrow, style, sways: said.pointed === l.gap, aside: said.pointed >= 0 && said.pointed !== l.gap }
  })
})
watch(() => props.hover, (spot) => {
  const c = said.lighting && spot ? curveOf(spot) : undefined
  const geometry = spot && desk.hitOf(spot.view)?.geometry
  if (said.lighting) said.pointed = spot && c && geometry ? said.gapAt(spot.view, geometry.instances[c.instance], c.source) : -1
})
/** Points in hand and under the pointer, and axes: sheet mm, y down. */
const pointMarks = computed(() =>
  [...sizes.picks, ...pick.picks, ...(props.hover?.point && isSizing.value ? [props.hover] : [])].flatMap((s) => {
    const home = desk.homes.find((h) => h.id === s.view)
    return s.point && home ? [{ x: home.position.x + s.at.x * home.scale, y: props.height - home.position.y - s.at.y * home.scale, kind: s.point.kind }] : []
  }),
)
const swept = computed(() => {
  const b = props.sweep
  return b && { x: Math.min(b.from.x, b.to.x), y: props.height - Math.max(b.from.y, b.to.y), width: Math.abs(b.to.x - b.from.x), height: Math.abs(b.to.y - b.from.y) }
})
</script>

<template>
  <g v-if="desk.drawn">
      <g v-for="l in lit" :key="`l${l.id}`" :transform="at(l.id)"><path class="lit" :d="l.path" :stroke-width="stroke(4)" /></g>
      <g v-for="(u, i) in unsaid" :key="`u${u.gap} ${u.view} ${i}`" :transform="at(u.view)" :class="{ aside: u.aside }" data-test="unsaid">
        <path class="unsaid" :d="u.path" :stroke-width="stroke(2.5)" />
        <path v-if="u.sways" class="unsaid" :class="u.way ? 'sways' : 'grows'" :style="u.style" :d="u.path" :stroke-width="stroke(1.5)" data-test="sways" />
        <path v-if="u.arrow" class="way" :d="u.arrow" :stroke-width="stroke(1.8)" />
      </g>
      <g v-for="(m, i) in marked" :key="`m${i}`" :transform="at(m.id)"><path class="mark" :d="m.path" :stroke-width="stroke(2)" /></g>
      <g v-for="t in trails" :key="`t${t.id}`" :transform="at(t.id)" data-test="chosen-trail"><path class="mark" :d="t.path" :stroke-width="stroke(2)" /></g>
      <g v-for="f in frames" :key="`f${f.id}`" :transform="at(f.id)">
        <rect class="frame" :x="f.x" :y="f.y" :width="f.width" :height="f.height" :stroke-width="stroke(1.2)" rx="1" />
      </g>
      <g v-for="v in (desk.drawn.views ?? []).filter((s) => s.state !== 'ready')" :key="`w${v.id}`" :transform="at(v.id)">
        <text class="say" :class="{ bad: v.state === 'failed' }" text-anchor="middle" :font-size="stroke(13)">
          {{ v.state === 'failed' ? v.error : v.state === 'rough' ? 'rough; the exact view follows …' : 'deriving the view …' }}
        </text>
        <text
          v-if="v.state === 'failed'" class="again" text-anchor="middle" :font-size="stroke(13)" :y="stroke(20)"
          role="button" data-test="derive-again" @pointerdown.stop @click.stop="desk.deriveAgain(v.id)"
        >Derive again</text>
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
      <g v-for="w in warned" :key="`o${w.id}`" :transform="at(w.view)"><rect class="warned" :x="w.x" :y="w.y" :width="w.width" :height="w.height" :stroke-width="stroke(1.2)" /></g>
      <g v-for="h in ends" :key="`e${h.end}`" :transform="at(h.view)">
        <line v-if="h.to" class="mark" :x1="h.x" :y1="-h.y" :x2="h.to.x" :y2="-h.to.y" :stroke-width="stroke(1.6)" />
        <circle class="end" :cx="h.to?.x ?? h.x" :cy="-(h.to?.y ?? h.y)" :r="stroke(5)" :stroke-width="stroke(1.5)" :data-end="h.end" @pointerdown.stop="emit('end', $event, h.end)" />
      </g>
      <g
        v-for="g in model.ghosts" :key="g.size!.id" class="in-hand" :class="{ aside: model.pointed && g.size!.id !== model.pointed, held: model.lean }" :transform="`${at(g.view)}${model.carried?.id === g.size!.id ? ` translate(${model.carried.x} ${-model.carried.y})` : ''}`"
        data-test="model-ghost" :data-ghost="g.size!.id" v-html="g.svg"
      />
      <g v-if="inHand" class="in-hand" :transform="at(inHand.view)" data-test="in-hand" v-html="inHand.svg" />
  </g>
</template>

<style scoped>
.end {
  fill: var(--paper);
  stroke: #6a4c93;
  cursor: move;
  pointer-events: all;
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
.aside {
  opacity: 0.3;
}
.unsaid {
  fill: none;
  stroke: #c78a12;
  stroke-opacity: 0.7;
  stroke-linecap: round;
}
.way {
  fill: none;
  stroke: #9a6a0b;
  stroke-linecap: round;
  stroke-linejoin: round;
}
@media (prefers-reduced-motion: no-preference) {
  .sways {
    animation: sway 1.6s ease-in-out infinite alternate;
  }
  .grows {
    animation: grow 1.6s ease-in-out infinite alternate;
  }
}
@keyframes sway {
  from {
    transform: translate(calc(-1 * var(--x)), calc(-1 * var(--y)));
  }
  to {
    transform: translate(var(--x), var(--y));
  }
}
@keyframes grow {
  to {
    transform: scale(var(--grow));
  }
}
g.in-hand.held :deep(*) {
  pointer-events: all;
  cursor: pointer;
}
g.in-hand.held :deep(path.stroke) {
  pointer-events: stroke;
}
g.in-hand :deep(path.stroke) {
  stroke: #6a4c93;
}
g.in-hand :deep(path.fill),
g.in-hand :deep(text) {
  fill: #6a4c93;
}
.say {
  font-family: 'Source Sans 3', sans-serif !important;
  fill: #6e6a62 !important;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 0.25em;
  stroke-linejoin: round;
}
.say.bad {
  fill: #b3372f !important;
}
.again {
  font-family: 'Source Sans 3', sans-serif !important;
  fill: var(--accent) !important;
  text-decoration: underline;
  cursor: pointer;
  pointer-events: all;
}
</style>
