// The line or outline being drawn in a view, as the overlay shows it.
import type { XY } from '../places'
import { DRAWING, type ViewsInHand } from './state'

export interface Sketch {
  path: XY[]
  closed: boolean
  circle: { c: XY; r: number } | null
  box: { c: XY; w: number; h: number } | null
}

/** In sheet mm; onSheet takes a point of the parent view there, next is the caught place under the pointer. */
export function viewSketch(now: ViewsInHand, onSheet: (p: XY) => XY, next: XY): Sketch | null {
  const { tool, options, points, drawn } = now
  if (!DRAWING.includes(tool ?? '')) return null
  const fixed = points.map(onSheet)
  if (tool === 'detail' && options.shape !== 'free' && fixed.length) {
    const c = fixed[0]
    const e = drawn ? fixed[1] : next
    const circle = options.shape === 'circle' ? { c, r: Math.hypot(e.x - c.x, e.y - c.y) } : null
    return { path: [], closed: true, circle, box: circle ? null : { c, w: Math.abs(e.x - c.x), h: Math.abs(e.y - c.y) } }
  }
  const outline = tool === 'breakout' || tool === 'detail'
  return { path: !drawn && fixed.length ? [...fixed, next] : fixed, closed: outline && drawn, circle: null, box: null }
}
