// Which curve of a view lies under the pointer: a spatial index over short pieces.
import Flatbush from 'flatbush'
import type { ViewCurve, ViewGeometry } from '@/api/client'
import { flattened } from './curves'

export interface Shown {
  hidden: boolean
  tangent: boolean
}

export function isShown(c: ViewCurve, shown: Shown): boolean {
  if (!c.visible) return shown.hidden
  return c.edge_class !== 'smooth' || shown.tangent
}

export class HitIndex {
  private readonly segments: Float64Array
  private readonly owner: Int32Array
  private readonly tree: Flatbush | null

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

  private distance(i: number, x: number, y: number): number {
    const [x0, y0, x1, y1] = this.segments.subarray(i * 4, i * 4 + 4)
    const dx = x1 - x0
    const dy = y1 - y0
    const n = dx * dx + dy * dy
    const t = n === 0 ? 0 : Math.max(0, Math.min(1, ((x - x0) * dx + (y - y0) * dy) / n))
    return Math.hypot(x - x0 - dx * t, y - y0 - dy * t)
  }
}
