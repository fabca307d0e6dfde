// Where things go on the sheet while they are moved: the same rules as drafting/views/arrange.py, for the picture under the pointer.
import type { Relation, Sheet, View } from '@/api/client'

export interface XY {
  x: number
  y: number
}

export const STEPS: Record<Relation, [number, number]> = {
  right: [1, 0],
  left: [-1, 0],
  above: [0, 1],
  below: [0, -1],
  'above-right': [1, 1],
  'above-left': [-1, 1],
  'below-right': [1, -1],
  'below-left': [-1, -1],
}

/** The place beside a parent that lies nearest to an offset on paper. */
export function relationOf(dx: number, dy: number): Relation {
  const ax = Math.abs(dx)
  const ay = Math.abs(dy)
  const sx = ay > 0 && ax < ay * 0.41 ? 0 : dx >= 0 ? 1 : -1
  const sy = ay < ax * 0.41 ? 0 : dy >= 0 ? 1 : -1
  return (Object.keys(STEPS) as Relation[]).find((r) => STEPS[r][0] === sx && STEPS[r][1] === sy) ?? 'right'
}

/** A place level with its parent, or above or below it; diagonal places are free. */
export function aligned(parent: XY, relation: Relation, at: XY): XY {
  const [sx, sy] = STEPS[relation]
  return { x: sx ? at.x : parent.x, y: sy ? at.y : parent.y }
}

/** Ids of a view and of all projected from it. */
export function family(sheet: Sheet, id: string): Set<string> {
  const found = new Set([id])
  let grown = true
  while (grown) {
    grown = false
    for (const v of sheet.views) {
      if (v.parent && found.has(v.parent) && !found.has(v.id)) {
        found.add(v.id)
        grown = true
      }
    }
  }
  return found
}

/** Where each view of a family stands while one is dragged to a place: each moves only along its alignment. */
export function moved(sheet: Sheet, view: View, to: XY): Map<string, XY> {
  const parent = sheet.views.find((v) => v.id === view.parent)
  const end = parent && view.relation ? aligned(parent.position, view.relation, to) : to
  const out = new Map<string, XY>([[view.id, end]])
  const dx = end.x - view.position.x
  const dy = end.y - view.position.y
  for (const id of family(sheet, view.id)) {
    const other = sheet.views.find((v) => v.id === id)
    if (other && id !== view.id) out.set(id, { x: other.position.x + dx, y: other.position.y + dy })
  }
  return out
}

/** A place moved onto the sheet's grid, where it has one. */
export function onGrid(p: XY, grid?: number | null): XY {
  return grid ? { x: Math.round(p.x / grid) * grid, y: Math.round(p.y / grid) * grid } : p
}
