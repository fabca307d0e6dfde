// What is picked on the sheet, as the desk holds it and as the server takes it.
import type { Annotation, Picked, Schemas } from '@/api/client'
import type { XY } from './places'
import { useDesk } from './store'

/** Something of a view under the pointer: a curve, or a point of it, or the axis that a center line shows, or a bare place (curve is -1 for these). */
export interface Spot {
  view: string
  curve: number
  at: XY
  point?: Schemas['PlacedPoint']
  /** The curve under the pointer where a point was caught: what is sized while the point is the only pick. */
  on?: { curve: number; at: XY }
  axis?: { instance: string; source: string }
  /** The holes of a bolt circle that was picked. */
  ring?: Schemas['Pick'][]
}

export const sameSpot = (a: Spot, b: Spot) => a.view === b.view && a.curve === b.curve && (a.curve >= 0 || !!(a.point ?? a.axis ?? a.ring)) && JSON.stringify(a.point?.pick ?? a.axis ?? a.ring) === JSON.stringify(b.point?.pick ?? b.axis ?? b.ring)

/** A spot as it is sent. alone: the only one, so that a point stands for what it lies on. */
export function picked(spot: Spot, alone = false): Picked {
  const s = alone && spot.on ? ({ view: spot.view, ...spot.on } as Spot) : spot
  if (s.point) {
    const p = s.point.pick
    return { instance: p.instance, source: p.source, role: p.role ?? 'edge', at: s.at, point: p.point ?? '', quarter: p.quarter ?? 0, other: p.other ?? null, axis: false }
  }
  if (s.axis) return { instance: s.axis.instance, source: s.axis.source, role: 'silhouette', at: s.at, point: '', quarter: 0, other: null, axis: true }
  if (s.curve < 0) return { instance: '', source: '', role: 'added', at: s.at, point: '', quarter: 0, other: null, axis: false }
  const g = useDesk().hitOf(s.view)!.geometry
  const c = g.curves[s.curve]
  return { instance: g.instances[c.instance], source: c.source, role: c.role, at: s.at, point: '', quarter: 0, other: null, axis: false }
}

/** Spots as they are sent, a bolt circle as its holes. */
export const pickedAll = (spots: Spot[], alone = false): Picked[] =>
  spots.flatMap((s) => s.ring?.map((p) => ({ instance: p.instance, source: p.source, role: p.role ?? 'edge', at: s.at, point: '' as const, quarter: 0 as const, other: null, axis: false })) ?? [picked(s, alone)])

/** The view an annotation hangs in; empty where it stands on the sheet. */
export const viewOf = (a: Pick<Annotation, 'anchor'>): string => (a.anchor.on === 'view' ? a.anchor.view : '')
/** What of the model an annotation is taken on. */
export const picksOf = (a: Pick<Annotation, 'anchor'>) => (a.anchor.on === 'annotation' ? [] : (a.anchor.picks ?? []))
