<!-- What the red pencil drew on a sheet: clouds, arrows and words, each with its number; ticks; and what others have selected. Never printed. -->
<script setup lang="ts">
import { computed } from 'vue'
import type { XY } from './places'
import { usePencil, type Mark } from './pencil'
import { useDesk } from './store'

const props = defineProps<{ height: number; zoom: number; at: (view: string) => string }>()
const desk = useDesk()
const pencil = usePencil()
const px = (n: number) => n / props.zoom

/** A line by hand: it trembles a little, always in the same way. */
function hand(points: XY[]): string {
  const out: string[] = []
  points.forEach((p, n) => {
    const q = points[n + 1]
    if (!n) out.push(`M${p.x} ${-p.y}`)
    if (!q) return
    const steps = Math.max(2, Math.round(Math.hypot(q.x - p.x, q.y - p.y) / 9))
    for (let k = 1; k <= steps; k++) {
      const t = k / steps
      const off = k < steps ? Math.sin(n * 7.3 + k * 2.1) * 0.35 : 0
      out.push(`L${p.x + (q.x - p.x) * t + off} ${-(p.y + (q.y - p.y) * t) + off}`)
    }
  })
  return out.join('')
}
function bows(a: XY, b: XY): string {
  const [x0, x1, y0, y1] = [Math.min(a.x, b.x), Math.max(a.x, b.x), Math.min(a.y, b.y), Math.max(a.y, b.y)]
  const corners = [[x0, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y0]]
  let d = `M${x0} ${-y0}`
  corners.slice(1).forEach(([x, y], n) => {
    const [u, v] = corners[n]
    const count = Math.max(1, Math.round(Math.hypot(x - u, y - v) / 8))
    for (let k = 1; k <= count; k++) {
      const r = Math.hypot(x - u, y - v) / count / 1.7
      d += `A${r} ${r} 0 0 0 ${u + ((x - u) * k) / count} ${-(v + ((y - v) * k) / count)}`
    }
  })
  return d
}
function drawn(kind: string, p: XY[]): string {
  if (kind === 'cloud' && p.length > 1) return bows(p[0], p[1])
  if (kind === 'arrow' && p.length > 1) {
    const [a, b] = p
    const way = Math.atan2(b.y - a.y, b.x - a.x)
    const tip = (by: number) => ({ x: b.x - 4 * Math.cos(way + by), y: b.y - 4 * Math.sin(way + by) })
    return hand([a, b]) + hand([tip(0.4), b, tip(-0.4)])
  }
  return ''
}
const points = (m: Mark): XY[] => m.places.map(([x, y]) => ({ x: x * pencil.scale(m.anchor), y: y * pencil.scale(m.anchor) }))
/** Where the number stands: at the upper right of a cloud, at the words of others. */
function head(kind: string, p: XY[]): XY {
  return kind === 'cloud' && p.length > 1 ? { x: Math.max(p[0].x, p[1].x), y: Math.max(p[0].y, p[1].y) } : p[0]
}
const marks = computed(() =>
  (pencil.page?.marks ?? [])
    .filter((m) => m.sheet === desk.sheet?.id && (m.state !== 'closed' || m.number === pencil.chosen))
    .map((m) => ({ m, at: m.anchor && desk.view(m.anchor) ? props.at(m.anchor) : `translate(0 ${props.height})`, d: drawn(m.kind, points(m)), head: head(m.kind, points(m)) })),
)
const initials = (name: string) => name.split(/[\s.]+/).map((w) => w[0] ?? '').join('').toUpperCase()
const inHand = computed(() => (pencil.tool && pencil.tool !== 'tick' && pencil.places.length ? drawn(pencil.tool.slice(7), [...pencil.places, pencil.pointer]) : ''))
const ticks = computed(() => (pencil.page?.ticks ?? []).filter((t) => t.sheet === desk.sheet?.id))
</script>

<template>
  <g class="pencil" data-test="pencil">
    <g v-for="{ m, at, d, head: h } in marks" :key="m.number" :transform="at" :class="[m.state, { on: m.number === pencil.chosen }]" :data-mark="m.number">
      <path v-if="d" class="line" :d="d" :stroke-width="0.6" />
      <g class="number" :transform="`translate(${h.x} ${-h.y})`" :data-test="`mark-${m.number}`" @pointerdown.stop="pencil.chosen = m.number">
        <circle :r="px(11)" />
        <text :font-size="px(11)" :y="px(4)" text-anchor="middle">{{ m.number }}</text>
        <text class="who" :font-size="px(10)" :x="px(15)" :y="px(4)">{{ initials(m.by) }}</text>
      </g>
    </g>
    <path v-if="inHand" class="line" :transform="`translate(0 ${height})`" :d="inHand" stroke-width="0.6" data-test="pencil-in-hand" />
    <g v-for="t in ticks" :key="t.annotation" :transform="t.view ? at(t.view) : `translate(0 ${height})`" :class="{ stale: !t.holds }" :data-tick="t.annotation">
      <path class="line" :transform="`translate(${t.x} ${-t.y})`" d="M0 -1.2L1.2 0.4L4 -4" stroke-width="0.6" />
    </g>
  </g>
</template>

<style scoped>
.pencil {
  pointer-events: none;
}
.line {
  fill: none;
  stroke: var(--fault);
  stroke-linecap: round;
  stroke-linejoin: round;
}
.number {
  pointer-events: all;
  cursor: pointer;
}
.number circle {
  fill: var(--paper);
  stroke: var(--fault);
  stroke-width: 0.4;
}
.number text {
  fill: var(--fault);
  font-family: 'Source Sans 3', sans-serif;
}
.on .line {
  stroke-width: 1;
}
.answered .line,
.answered circle {
  stroke-dasharray: 1.5 1;
}
.closed,
.stale {
  opacity: 0.45;
}
</style>
