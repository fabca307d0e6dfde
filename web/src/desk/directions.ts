// Directions a main or pictorial view can look in, and turning them.
import type { Orientation } from '@/api/client'

export type V3 = [number, number, number]
export interface Direction {
  name: string
  orientation: Orientation
  pictorial: boolean
}

export const cross = (a: number[], b: number[]): V3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
export const dot = (a: number[], b: number[]): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const unit = (a: number[]): V3 => {
  const n = Math.hypot(...a)
  return a.map((v) => (Math.abs(v / n) < 1e-12 ? 0 : v / n)) as V3
}
export const towardOf = (o: Orientation): V3 => cross(o.right, o.up)

/** Seen from a direction, upright: the model's z points up, or its y where z points at the viewer. */
export function seenFrom(toward: number[], up?: number[]): Orientation {
  const t = unit(toward)
  const want = up ?? (Math.abs(t[2]) > 0.999 ? [0, t[2] > 0 ? 1 : -1, 0] : [0, 0, 1])
  const right = unit(cross(want, t))
  return { right, up: unit(cross(t, right)) }
}

/** A quarter turn of the picture: about the line of sight, or of the part about the paper's upright or level axis. */
export function quarter(o: Orientation, way: 'clockwise' | 'left' | 'right' | 'up' | 'down'): Orientation {
  const t = towardOf(o)
  const minus = (a: number[]) => a.map((v) => -v + 0)
  if (way === 'clockwise') return { right: o.up, up: minus(o.right) }
  if (way === 'left') return { right: minus(t), up: o.up }
  if (way === 'right') return { right: t, up: o.up }
  return way === 'up' ? { right: o.right, up: t } : { right: o.right, up: minus(t) }
}

const principal: [string, V3, V3][] = [
  ['front', [1, 0, 0], [0, 0, 1]],
  ['top', [1, 0, 0], [0, 1, 0]],
  ['right', [0, 1, 0], [0, 0, 1]],
  ['left', [0, -1, 0], [0, 0, 1]],
  ['rear', [-1, 0, 0], [0, 0, 1]],
  ['bottom', [1, 0, 0], [0, -1, 0]],
]
const corners: [string, V3][] = [
  ['isometric', [1, -1, 1]],
  ['isometric, from the left', [-1, -1, 1]],
  ['isometric, from behind right', [1, 1, 1]],
  ['isometric, from behind left', [-1, 1, 1]],
  ['isometric, from below', [1, -1, -1]],
  ['isometric, from below left', [-1, -1, -1]],
  ['isometric, from below behind right', [1, 1, -1]],
  ['isometric, from below behind left', [-1, 1, -1]],
]
/** ISO 5456-3 dimetric: width and height full size, depth half: the eye stands 20.7 degrees aside and 19.5 degrees up. */
const DIMETRIC: V3 = [Math.sqrt(1 / 9), -Math.sqrt(7 / 9), Math.sqrt(1 / 9)]
/** Trimetric: all three axes shortened differently, the eye 30 degrees aside and 20 degrees up. */
const TRIMETRIC: V3 = [Math.sin(Math.PI / 6) * Math.cos(Math.PI / 9), -Math.cos(Math.PI / 6) * Math.cos(Math.PI / 9), Math.sin(Math.PI / 9)]

export const DIRECTIONS: Direction[] = [
  ...principal.map(([name, right, up]) => ({ name, orientation: { right, up }, pictorial: false })),
  ...corners.map(([name, toward]) => ({ name, orientation: seenFrom(toward), pictorial: true })),
  { name: 'dimetric', orientation: seenFrom(DIMETRIC), pictorial: true },
  { name: 'trimetric', orientation: seenFrom(TRIMETRIC), pictorial: true },
]
