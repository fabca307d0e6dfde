// Curves of a view as polylines for hit-testing and as SVG path data for lighting up. Nothing is measured here.
import type { ViewCurve } from '@/api/client'

/** Points x0 y0 x1 y1 … along a curve in view mm, y up. */
export function flattened(c: ViewCurve): number[] {
  const d = c.data
  if (c.kind === 'line' || c.kind === 'polyline') return d
  const [first, last] = c.kind === 'arc' ? [d[3], d[4]] : [d[5], d[6]]
  const count = Math.max(2, Math.ceil((last - first) / (Math.PI / 24)))
  const out: number[] = []
  for (let i = 0; i <= count; i++) {
    const t = first + ((last - first) * i) / count
    const cos = Math.cos(t)
    const sin = Math.sin(t)
    if (c.kind === 'arc') out.push(d[0] + d[2] * cos, d[1] + d[2] * sin)
    else out.push(d[0] + d[2] * cos - d[3] * d[4] * sin, d[1] + d[3] * cos + d[2] * d[4] * sin)
  }
  return out
}

/** SVG path data of curves at a scale, y down, about the view's position. */
export function pathOf(curves: ViewCurve[], scale: number): string {
  const parts: string[] = []
  for (const c of curves) {
    const p = flattened(c)
    for (let i = 0; i < p.length; i += 2) parts.push(`${i ? 'L' : 'M'}${(p[i] * scale).toFixed(3)} ${(-p[i + 1] * scale).toFixed(3)}`)
  }
  return parts.join('')
}

/** Where on a curve the point nearest to a place lies, as a fraction of its parameter (0 to 1). */
export function fractionOn(c: ViewCurve, at: { x: number; y: number }): number {
  const p = flattened(c)
  const n = p.length / 2 - 1
  let best = 0
  let nearest = Infinity
  for (let i = 0; i < n; i++) {
    const [x0, y0, x1, y1] = p.slice(2 * i, 2 * i + 4)
    const dx = x1 - x0
    const dy = y1 - y0
    const size = dx * dx + dy * dy
    const t = size ? Math.max(0, Math.min(1, ((at.x - x0) * dx + (at.y - y0) * dy) / size)) : 0
    const away = Math.hypot(at.x - x0 - dx * t, at.y - y0 - dy * t)
    if (away < nearest) {
      nearest = away
      best = (i + t) / n
    }
  }
  return best
}

/** The box around curves at a scale, y down, about the view's position. */
export function boxOf(curves: ViewCurve[], scale: number): { x0: number; y0: number; x1: number; y1: number } {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity }
  for (const c of curves) {
    const p = flattened(c)
    for (let i = 0; i < p.length; i += 2) {
      box.x0 = Math.min(box.x0, p[i] * scale)
      box.x1 = Math.max(box.x1, p[i] * scale)
      box.y0 = Math.min(box.y0, -p[i + 1] * scale)
      box.y1 = Math.max(box.y1, -p[i + 1] * scale)
    }
  }
  return box
}
