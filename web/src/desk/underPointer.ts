// What of the sheet is under the pointer: views, edges, points, parts, annotations.
import { computed, type Ref } from 'vue'
import type { ViewCurve } from '@/api/client'
import type { XY } from './places'
import { useDesk } from './store'
import { usePickTool } from './pickTool'
import { SIZE_TOOLS } from './sizeTools'
import { picksOf, viewOf, type Spot } from './spots'
import { useTools } from './tools'

const REACH = 7 // pixels
const ON = 3 // pixels: where a middle is meant

/** zoom: pixels for a mm of the sheet. Places are sheet mm. */
export function useUnderPointer(zoom: Ref<number>) {
  const desk = useDesk()
  const tools = useTools()
  const pick = usePickTool()
  /** Whether a tool is in hand that takes points and axes too. */
  const isTrailing = computed(() => pick.steps?.takes === 'trail')
  const isSizing = computed(() => (SIZE_TOOLS as string[]).includes(tools.tool) || isTrailing.value)
  const reach = computed(() => REACH / zoom.value)
  /** Which of a view's lines are drawn, as its particulars have it. */
  function shown(id: string) {
    const v = desk.view(id)
    const off = v?.no_hidden?.length ? new Set(v.no_hidden.map((p) => desk.hitOf(id)?.geometry.instances.indexOf(p) ?? -1)) : undefined
    return { hidden: v?.hidden_lines ?? true, tangent: v?.tangent_edges ?? false, without: off }
  }
  function viewAt(p: XY, margin = 0): string | null {
    for (const v of [...(desk.sheet?.views ?? [])].reverse()) {
      const ink = desk.inkOf(v.id)
      if (!ink) continue
      const x = p.x - v.position.x
      const y = p.y - v.position.y
      if (x >= ink.low[0] - margin && x <= ink.high[0] + margin && y >= ink.low[1] - margin && y <= ink.high[1] + margin) return v.id
    }
    return null
  }
  /** The view in or near which something is drawn: lines start outside the part. */
  function viewNear(p: XY, reach = 25): string | null {
    let best: string | null = null
    let nearest = reach
    for (const v of desk.sheet?.views ?? []) {
      const ink = desk.inkOf(v.id)
      if (!ink) continue
      const x = p.x - v.position.x
      const y = p.y - v.position.y
      const away = Math.hypot(Math.max(ink.low[0] - x, 0, x - ink.high[0]), Math.max(ink.low[1] - y, 0, y - ink.high[1]))
      if (away < nearest || (away === 0 && nearest === 0)) {
        nearest = away
        best = v.id
      }
    }
    return best
  }
  /** A pickable point within reach; on an edge it gives way where the edge is short, and Alt leaves points out. */
  function pointAt(p: XY): Spot | null {
    let best: Spot | null = null
    let nearest = reach.value
    for (const { id, position, scale } of desk.homes) {
      for (const point of desk.pointsOf(id)) {
        const away = Math.hypot(position.x + point.x * scale - p.x, position.y + point.y * scale - p.y)
        // edges are clicked in their middle: a middle or a quadrant is meant only where it is hit
        if (away < nearest && (away * zoom.value < ON || !['middle', 'quadrant'].includes(point.kind))) {
          nearest = away
          best = { view: id, curve: -1, at: { x: point.x, y: point.y }, point }
        }
      }
    }
    return best
  }
  /** What a size would be taken of: a point, an edge, the axis that a center line shows, or a bolt circle. */
  function sizedAt(p: XY, event: MouseEvent): Spot | null {
    const point = event.altKey ? null : pointAt(p)
    const curve = spotAt(p)
    if (point) return curve?.view === point.view ? { ...point, on: { curve: curve.curve, at: curve.at } } : point
    if (curve) return curve
    const a = desk.annotation(annotationUnder(event))
    if (a?.kind === 'bolt_circle' && tools.tool === 'size') return { view: viewOf(a), curve: -1, at: { x: 0, y: 0 }, ring: picksOf(a) }
    const face = a?.kind === 'center_line' ? picksOf(a).find((k) => k.role === 'silhouette') : undefined
    return a && face ? { view: viewOf(a), curve: -1, at: { x: 0, y: 0 }, axis: { instance: face.instance, source: face.source } } : null
  }
  function spotAt(p: XY): Spot | null {
    for (const { id, position, scale } of [...desk.homes].reverse()) {
      const index = id || isSizing.value ? desk.hitOf(id) : undefined
      if (!index) continue
      const local = { x: (p.x - position.x) / scale, y: (p.y - position.y) / scale }
      const curve = index.nearest(local.x, local.y, reach.value / scale, shown(id))
      if (curve >= 0) return { view: id, curve, at: local }
    }
    return null
  }

  /** The part of an assembly under the pointer: of an edge, else of the face that is seen there. */
  function partAt(p: XY, spot: Spot | null): string {
    const c = spot && curveOf(spot)
    if (spot && c) return desk.hitOf(spot.view)?.geometry.instances[c.instance] ?? ''
    const v = desk.view(viewAt(p) ?? '')
    const at = v && desk.inView(v, p)
    return (v && at && desk.hitOf(v.id)?.instanceAt(at.x, at.y)) || ''
  }
  function curveOf(s: { view: string; curve: number }): ViewCurve | undefined {
    return desk.hitOf(s.view)?.geometry.curves[s.curve]
  }
  function annotationUnder(event: MouseEvent): string {
    return (event.target as Element | null)?.closest?.('[data-annotation]')?.getAttribute('data-annotation') ?? ''
  }
  return { reach, shown, viewAt, viewNear, sizedAt, spotAt, partAt, curveOf, annotationUnder, isSizing, isTrailing }
}
