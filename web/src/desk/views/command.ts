// The command that a tool of the Views stage would give, as far as it has been drawn.
import type { Command, DetailOutline, View } from '@/api/client'
import { aligned, type XY } from '../places'
import { setPlace, type SetView } from '../standardSet'
import type { ViewsInHand } from './state'

interface Desk {
  sheet: string
  parent: View | undefined
  members: SetView[]
  projection: 'first' | 'third'
}

export function viewCommand(now: ViewsInHand, { sheet, parent, members, projection }: Desk): Command | null {
  const { options, orientation, points, pointer: position } = now
  switch (now.tool) {
    case 'main':
      return { command: 'place_main_view', sheet, orientation, position, pictorial: now.pictorial, fit: true }
    case 'set':
      return { command: 'place_standard_set', sheet, orientation, members: members.map((m) => setPlace(m, projection)), position }
    case 'projected':
      return parent ? { command: 'place_projected_view', parent: parent.id, relation: now.relation, position: aligned(parent.position, now.relation, position) } : null
  }
  if (!now.drawn) return null
  switch (now.tool) {
    case 'section':
      return { command: 'place_section', parent: now.parent, points, form: options.form, position, removed: options.removed, only_cut: options.onlyCut }
    case 'auxiliary':
      return { command: 'place_auxiliary_view', parent: now.parent, a: points[0], b: points[1], position, only_face: options.onlyFace }
    case 'detail':
      return { command: 'place_detail', parent: now.parent, outline: detailOutline(now), position }
    case 'breakout':
      return { command: 'break_out', view: now.parent, outline: points, depth: now.depth ?? 0 }
    default:
      return null
  }
}

function middle(points: XY[]): XY {
  const xs = points.map((p) => p.x)
  const ys = points.map((p) => p.y)
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 }
}

function detailOutline({ points, options }: ViewsInHand): DetailOutline {
  const [c, edge] = points
  const base = { shape: options.shape, center: c, radius: 10, width: 20, height: 20, points: [] as XY[], border: true, jagged: options.jagged, leader: true, pictorial: false }
  if (options.shape === 'free') return { ...base, points, center: middle(points) }
  if (options.shape === 'circle') return { ...base, radius: Math.max(Math.hypot(edge.x - c.x, edge.y - c.y), 0.01) }
  return { ...base, width: Math.max(2 * Math.abs(edge.x - c.x), 0.01), height: Math.max(2 * Math.abs(edge.y - c.y), 0.01) }
}
