// Places of a view that a drawn line catches on: ends, middles, centers, and lines level with what was drawn.
import type { ViewCurve } from '@/api/client'
import type { HitIndex } from './hit'
import type { XY } from './places'

export interface Snap {
  at: XY
  kind: 'end' | 'middle' | 'center' | 'level' | 'free'
}

const cache = new WeakMap<HitIndex, { at: XY; kind: 'end' | 'middle' | 'center' }[]>()

function places(c: ViewCurve): { at: XY; kind: 'end' | 'middle' | 'center' }[] {
  const d = c.data
  if (c.kind === 'line')
    return [
      { at: { x: d[0], y: d[1] }, kind: 'end' },
      { at: { x: d[2], y: d[3] }, kind: 'end' },
      { at: { x: (d[0] + d[2]) / 2, y: (d[1] + d[3]) / 2 }, kind: 'middle' },
    ]
  if (c.kind === 'polyline')
    return [
      { at: { x: d[0], y: d[1] }, kind: 'end' },
      { at: { x: d[d.length - 2], y: d[d.length - 1] }, kind: 'end' },
    ]
  return [{ at: { x: d[0], y: d[1] }, kind: 'center' }]
}

function keyPlaces(index: HitIndex) {
  let found = cache.get(index)
  if (!found) {
    found = index.geometry.curves.flatMap(places)
    cache.set(index, found)
  }
  return found
}

/** The place nearest to a point (view mm) within reach, centers first; else level with an earlier point or a center; else the point itself. */
export function snapped(index: HitIndex | undefined, p: XY, reach: number, before: XY[] = []): Snap {
  let best: Snap | null = null
  let score = Infinity
  const all = index ? keyPlaces(index) : []
  for (const k of all) {
    const away = Math.hypot(k.at.x - p.x, k.at.y - p.y)
    const s = away - (k.kind === 'center' ? reach * 0.3 : 0)
    if (away <= reach && s < score) {
      best = { at: k.at, kind: k.kind }
      score = s
    }
  }
  if (best) return best
  const guides = [...before.slice(-1), ...all.filter((k) => k.kind === 'center').map((k) => k.at)]
  const at = { ...p }
  let level = false
  for (const axis of ['x', 'y'] as const) {
    const near = guides.filter((g) => Math.abs(g[axis] - p[axis]) <= reach * 0.6).sort((a, b) => Math.abs(a[axis] - p[axis]) - Math.abs(b[axis] - p[axis]))[0]
    if (near) {
      at[axis] = near[axis]
      level = true
    }
  }
  return { at, kind: level ? 'level' : 'free' }
}

/** A next point of a stepped line: along its first leg or square to it. */
export function squared(points: XY[], p: XY): XY {
  if (points.length < 2) return p
  const [a, b] = points
  const last = points[points.length - 1]
  const n = Math.hypot(b.x - a.x, b.y - a.y) || 1
  const ux = (b.x - a.x) / n
  const uy = (b.y - a.y) / n
  const along = (p.x - last.x) * ux + (p.y - last.y) * uy
  const across = -(p.x - last.x) * uy + (p.y - last.y) * ux
  return Math.abs(along) >= Math.abs(across) ? { x: last.x + ux * along, y: last.y + uy * along } : { x: last.x - uy * across, y: last.y + ux * across }
}
