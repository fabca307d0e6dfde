// Hiding a part of an edge: two clicks on the same edge.
import type { Command } from '@/api/client'
import { fractionOn } from '../curves'
import type { HitIndex } from '../hit'
import type { Spot } from '../spots'

export interface EdgePart {
  spot: Spot
  /** Where along the edge the part begins, 0 to 1. */
  from: number
}

/** What a click makes of it: the part begun, or the command that hides it. */
export function hidePart(begun: EdgePart | null, spot: Spot, index: HitIndex): { begun: EdgePart } | { command: Command } | null {
  const c = index.geometry.curves[spot.curve]
  if (!c || c.role === 'added' || c.role === 'underlay') return null
  const here = fractionOn(c, spot.at)
  if (!begun || begun.spot.view !== spot.view || begun.spot.curve !== spot.curve) return { begun: { spot, from: here } }
  const [first, last] = [begun.from, here].sort((x, y) => x - y)
  return { command: { command: 'change_line', view: spot.view, change: { instance: index.geometry.instances[c.instance], source: c.source, role: c.role, line: 'none', first, last } } }
}
