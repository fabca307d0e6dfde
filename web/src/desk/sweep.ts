// What of a view lies within a swept box and joins a run.
import type { ViewCurve } from '@/api/client'
import type { XY } from './places'
import type { Spot } from './spots'

export interface Swept {
  curves: ViewCurve[]
  view: string
  position: XY
  scale: number
  from: XY
  to: XY
  /** Only whole circles, as a hole table takes them. */
  circlesOnly: boolean
  axis: '' | 'horizontal' | 'vertical'
}

/** Circles, and lines square to the run's direction, wholly within the box (sheet mm). */
export function sweptSpots({ curves, view, position, scale, from, to, circlesOnly, axis }: Swept): Spot[] {
  const low = { x: Math.min(from.x, to.x), y: Math.min(from.y, to.y) }
  const high = { x: Math.max(from.x, to.x), y: Math.max(from.y, to.y) }
  const inside = (x: number, y: number) => {
    const p = { x: position.x + x * scale, y: position.y + y * scale }
    return p.x >= low.x && p.x <= high.x && p.y >= low.y && p.y <= high.y
  }
  const upright = (d: number[]) => Math.abs(d[0] - d[2]) < 1e-6
  const level = (d: number[]) => Math.abs(d[1] - d[3]) < 1e-6
  const wanted = (c: ViewCurve) => {
    const d = c.data
    if (!c.visible || !c.source || c.edge_class === 'smooth' || c.role === 'silhouette') return false
    if (c.kind === 'arc') return inside(d[0] - d[2], d[1] - d[2]) && inside(d[0] + d[2], d[1] + d[2]) && (!circlesOnly || d[4] - d[3] > Math.PI * 1.99)
    if (c.kind !== 'line' || circlesOnly || !inside(d[0], d[1]) || !inside(d[2], d[3])) return false
    return axis === 'vertical' ? level(d) : upright(d)
  }
  return curves.flatMap((c, curve) => (wanted(c) ? [{ view, curve, at: { x: c.data[0], y: c.data[1] } }] : []))
}
