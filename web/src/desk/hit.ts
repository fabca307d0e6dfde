// Which curve of a view lies under the pointer: a spatial index over short pieces.
import Flatbush from 'flatbush'
import type { ViewCurve, ViewGeometry } from '@/api/client'
import { flattened } from './curves'

export interface Shown {
  hidden: boolean
  tangent: boolean
  /** Numbers of instances without hidden lines. */
  without?: ReadonlySet<number>
}

export function isShown(c: ViewCurve, shown: Shown): boolean {
  if (!c.visible) return shown.hidden && !shown.without?.has(c.instance)
  return c.edge_class !== 'smooth' || shown.tangent
}

export class HitIndex {
  private readonly segments: Float64Array
  private readonly owner: Int32Array
  private readonly tree: Flatbush | null
  /** Where the runs of what is seen end, in cells. */
  private ends?: number[]

  constructor(readonly geometry: ViewGeometry) {
    const flat: number[] = []
    const owner: number[] = []
    geometry.curves.forEach((c, index) => {
      const p = flattened(c)
      for (let i = 0; i + 3 < p.length; i += 2) {
        flat.push(p[i], p[i + 1], p[i + 2], p[i + 3])
        owner.push(index)
      }
    })
    this.segments = Float64Array.from(flat)
    this.owner = Int32Array.from(owner)
    this.tree = owner.length ? new Flatbush(owner.length) : null
    for (let i = 0; i < owner.length; i++) {
      const [a, b, c, d] = flat.slice(i * 4, i * 4 + 4)
      this.tree!.add(Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d))
    }
    this.tree?.finish()
  }

  /** Index of the nearest shown curve within reach of a point (view mm), -1 for none. A visible one goes before a hidden one. */
  nearest(x: number, y: number, reach: number, shown: Shown): number {
    if (!this.tree) return -1
    let best = -1
    let score = Infinity
    for (const i of this.tree.search(x - reach, y - reach, x + reach, y + reach)) {
      const curve = this.geometry.curves[this.owner[i]]
      if (!curve.source || !isShown(curve, shown)) continue
      const away = this.distance(i, x, y)
      if (away > reach) continue
      const s = away + (curve.visible ? 0 : reach * 0.5)
      if (s < score) {
        score = s
        best = this.owner[i]
      }
    }
    return best
  }

  /** The instance whose face is seen at a place (view mm), empty for none. */
  instanceAt(x: number, y: number): string {
    const seen = this.geometry.seen
    if (!seen) return ''
    const column = Math.floor((x - seen.left) / seen.cell)
    const row = Math.floor((y - seen.bottom) / seen.cell)
    if (column < 0 || row < 0 || column >= seen.columns || row >= seen.rows) return ''
    const cell = row * seen.columns + column
    if (!this.ends) {
      this.ends = []
      for (let i = 0, sum = 0; i < seen.runs.length; i += 2) this.ends.push((sum += seen.runs[i]))
    }
    let low = 0
    let high = this.ends.length - 1
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.ends[middle] > cell) high = middle
      else low = middle + 1
    }
    return this.geometry.instances[seen.runs[2 * low + 1]] ?? ''
  }

  /** The trail line within reach of a place (view mm): the parts it is of. */
  trailAt(x: number, y: number, reach: number, off: readonly string[]): string[] | null {
    let best: string[] | null = null
    let nearest = reach
    for (const t of this.geometry.trails ?? []) {
      if (t.instances.every((p) => off.includes(p))) continue
      const away = between(t.data, x, y)
      if (away < nearest) {
        nearest = away
        best = t.instances
      }
    }
    return best
  }

  private distance(i: number, x: number, y: number): number {
    return between(this.segments.subarray(i * 4, i * 4 + 4), x, y)
  }
}

/** How far a place lies from a straight piece x0 y0 x1 y1. */
function between(piece: ArrayLike<number>, x: number, y: number): number {
  const dx = piece[2] - piece[0]
  const dy = piece[3] - piece[1]
  const n = dx * dx + dy * dy
  const t = n === 0 ? 0 : Math.max(0, Math.min(1, ((x - piece[0]) * dx + (y - piece[1]) * dy) / n))
  return Math.hypot(x - piece[0] - dx * t, y - piece[1] - dy * t)
}
