// The tools of the Views stage. Each draws what it needs in a view, then shows what its command would do under the pointer, then does it.
import { defineStore } from 'pinia'
import { computed, reactive, ref, shallowRef } from 'vue'
import type { Command, Orientation, View } from '@/api/client'
import { DIRECTIONS, dot, quarter, towardOf } from './directions'
import { relationOf, type XY } from './places'
import { snapped, squared, type Snap } from './snaps'
import { usualSet, type SetView } from './standardSet'
import type { Spot } from './spots'
import { useDesk } from './store'
import { viewCommand } from './views/command'
import { useViewPreview } from './views/preview'
import { hidePart, type EdgePart } from './views/partOfEdge'
import { viewPrompt } from './views/prompt'
import { viewSketch } from './views/sketch'
import { DRAWING, pointsAtLeast, pointsAtMost, viewOptions, type ViewTool, type ViewsInHand } from './views/state'

const UNUSABLE = ['pictorial', 'detail']

export const useViewTools = defineStore('viewTools', () => {
  const desk = useDesk()
  const tool = ref<ViewTool | null>(null)
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const parent = ref('')
  const points = ref<XY[]>([])
  const drawn = ref(false)
  const snap = ref<Snap | null>(null)
  const depth = ref<number | null>(null)
  const direction = ref(0)
  const own = ref<Orientation | null>(null)
  const options = reactive(viewOptions())
  const projection = computed(() => desk.document?.projection ?? 'first')
  const members = computed<SetView[]>(() => options.members ?? usualSet(projection.value))
  const parentView = computed<View | undefined>(() => desk.view(parent.value))
  const orientation = computed(() => own.value ?? DIRECTIONS[direction.value].orientation)
  const pictorial = computed(() => !own.value && DIRECTIONS[direction.value].pictorial)
  const directionName = computed(() => (own.value ? 'the picked face' : DIRECTIONS[direction.value].name))

  const { inView } = desk
  function onSheet(v: View, p: XY): XY {
    const f = desk.scaleOf(v)
    return { x: v.position.x + p.x * f, y: v.position.y + p.y * f }
  }

  /** A change being made by dragging, shown like the command of a tool. */
  const dragged = shallowRef<Command | null>(null)
  const preview = useViewPreview(command)
  const { ghosts, marks, refusal, ask } = preview
  const relation = computed(() => {
    const v = parentView.value
    return v ? relationOf(pointer.value.x - v.position.x, pointer.value.y - v.position.y) : 'right'
  })
  const inHand = computed<ViewsInHand>(() => ({
    tool: tool.value, pointer: pointer.value, parent: parent.value, points: points.value, drawn: drawn.value, depth: depth.value, options,
    orientation: orientation.value, directionName: directionName.value, pictorial: pictorial.value, relation: relation.value, letter: preview.letter.value,
  }))
  const prompt = computed(() => viewPrompt(inHand.value))
  /** What is being drawn, in sheet mm. */
  const sketch = computed(() => {
    const v = parentView.value
    return v ? viewSketch(inHand.value, (p) => onSheet(v, p), snap.value?.at ?? pointer.value) : null
  })

  function command(): Command | null {
    return dragged.value ?? viewCommand(inHand.value, { sheet: desk.sheet?.id ?? '', parent: parentView.value, members: members.value, projection: projection.value })
  }
  function show(c: Command | null) {
    dragged.value = c
    if (c) return void ask()
    preview.drop()
    refusal.value = ''
  }

  // ---- starting, stopping, stepping back ---------------------------------------------------------------------------------
  function start(name: ViewTool) {
    reset()
    direction.value = 0
    tool.value = name
    const usable = (desk.sheet?.views ?? []).filter((v) => name === 'detail' || name === 'hatch' || name === 'part' || !UNUSABLE.includes(v.kind))
    if (name !== 'main' && name !== 'set' && !usable.length) {
      refusal.value = name === 'projected' ? 'There is no view to project from; place the main view first.' : 'There is no view on this sheet yet; place the main view first.'
      return
    }
    const first = desk.selected.find((s) => s.kind === 'view')
    if (name === 'projected') {
      const id = first?.kind === 'view' ? first.id : ''
      if (usable.some((v) => v.id === id)) parent.value = id
      else if (usable.length === 1) parent.value = usable[0].id
    }
    if (name === 'auxiliary') {
      const edge = desk.selected.find((s) => s.kind === 'curve')
      if (edge?.kind === 'curve') takeEdge({ view: edge.view, curve: edge.curve, at: { x: 0, y: 0 } })
    }
    if (name === 'main' || name === 'set' || name === 'projected') void ask()
  }

  function reset() {
    preview.drop()
    tool.value = null
    parent.value = ''
    points.value = []
    drawn.value = false
    snap.value = null
    depth.value = null
    refusal.value = ''
    own.value = null
    begun.value = null
  }

  /** One step back within the tool; false where there is none. */
  function back(): boolean {
    refusal.value = ''
    preview.drop()
    if (drawn.value) {
      drawn.value = false
      depth.value = null
      if (tool.value === 'auxiliary' || options.form === 'half' || (tool.value === 'detail' && options.shape !== 'free')) points.value = []
      else points.value = points.value.slice(0, -1)
      if (!points.value.length) parent.value = ''
      return true
    }
    if (points.value.length) {
      points.value = points.value.slice(0, -1)
      begun.value = null
      if (!points.value.length) parent.value = ''
      return true
    }
    if (tool.value === 'projected' && parent.value && (desk.sheet?.views.length ?? 0) > 1) {
      parent.value = ''
      return true
    }
    return false
  }

  // ---- pointer -------------------------------------------------------------------------------------------------------------
  function reach(): number {
    const v = parentView.value
    return v ? snapReach.value / desk.scaleOf(v) : 0
  }
  const snapReach = ref(3)

  function caught(p: XY, viewId: string): XY {
    const v = desk.view(viewId)
    if (!v) return p
    const s = snapped(desk.hitOf(viewId), inView(v, p), snapReach.value / desk.scaleOf(v), points.value)
    const at = tool.value === 'section' && options.form === 'straight' ? squared(points.value, s.at) : s.at
    snap.value = { ...s, at: onSheet(v, at) }
    return at
  }

  function move(at: XY, under: Spot | null, over: string | null) {
    pointer.value = at
    spot.value = under
    snap.value = null
    const drawing = !drawn.value && DRAWING.includes(tool.value ?? '')
    const host = parent.value || over
    if (drawing && host) caught(at, host)
    if (tool.value === 'breakout' && drawn.value) {
      depth.value = depthAt(over)
      if (depth.value === null) return
    }
    if (command()) void ask()
  }

  /** Depth of a place picked in another view, mm toward the viewer of the view that is broken out; null where it tells none. */
  function depthAt(over: string | null): number | null {
    const v = parentView.value
    const other = over ? desk.view(over) : undefined
    if (!v || !other || other.id === v.id || other.kind === 'detail') return null
    const t = towardOf(v.orientation)
    if (Math.abs(dot(towardOf(other.orientation), t)) > 0.1) return null
    const s = snapped(desk.hitOf(other.id), inView(other, pointer.value), snapReach.value / desk.scaleOf(other))
    snap.value = { ...s, at: onSheet(other, s.at) }
    const at = s.at
    return at.x * dot(other.orientation.right, t) + at.y * dot(other.orientation.up, t)
  }

  function takeEdge(s: Spot) {
    const c = desk.hitOf(s.view)?.geometry.curves[s.curve]
    if (!c) return
    if (c.kind !== 'line') {
      refusal.value = 'That edge is not straight; an auxiliary view is square to a straight edge or to two points.'
      return
    }
    parent.value = s.view
    points.value = [
      { x: c.data[0], y: c.data[1] },
      { x: c.data[2], y: c.data[3] },
    ]
    drawn.value = true
    void ask()
  }

  async function place() {
    const c = command()
    if (!c) return
    const kind = tool.value
    preview.drop()
    if (!(await desk.edit(c))) return
    if (tool.value !== kind) return
    if (kind === 'projected') void ask()
    else if (kind === 'main' && !pictorial.value) {
      const id = desk.sheet?.views.at(-1)?.id ?? ''
      reset()
      tool.value = 'projected'
      parent.value = id
    } else if (kind === 'main' || kind === 'set') reset()
    else {
      reset()
      tool.value = kind
    }
  }

  async function click(at: XY, under: Spot | null, over: string | null): Promise<void> {
    pointer.value = at
    switch (tool.value) {
      case 'main':
      case 'set':
        return place()
      case 'projected':
        if (parent.value) return place()
        if (over && UNUSABLE.includes(desk.view(over)?.kind ?? '')) refusal.value = `Nothing is projected from a ${desk.view(over)?.kind === 'detail' ? 'detail' : 'pictorial view'}; pick a main, projected or section view.`
        else if (over) {
          refusal.value = ''
          parent.value = over
          void ask()
        }
        return
      case 'hatch':
        if (over) {
          const v = desk.view(over)!
          await desk.edit({ command: 'hatch_region', view: over, hatch: { at: inView(v, at), pattern: options.pattern, angle: options.angle, spacing: options.spacing } })
        }
        return
      case 'part':
        return clickPart(under)
      case 'auxiliary':
        if (drawn.value) return place()
        if (!points.value.length && under) {
          const s = snapped(desk.hitOf(under.view), under.at, reach() || snapReach.value / desk.scaleOf(desk.view(under.view)!))
          const c = desk.hitOf(under.view)?.geometry.curves[under.curve]
          if (c?.kind === 'line' || s.kind === 'free' || s.kind === 'level') return takeEdge(under)
        }
        break
      default:
        if (drawn.value) return tool.value === 'breakout' ? clickDepth(over) : place()
    }
    const host = parent.value || over
    if (!host) {
      refusal.value = 'Click inside a view.'
      return
    }
    const v = desk.view(host)
    if (!v || (tool.value !== 'detail' && UNUSABLE.includes(v.kind))) {
      refusal.value = `${tool.value === 'section' ? 'A cutting line' : 'This'} cannot be drawn in a ${v?.kind === 'detail' ? 'detail' : 'pictorial view'}; use a main, projected or section view.`
      return
    }
    refusal.value = ''
    const p = caught(at, host)
    parent.value = host
    const last = points.value.at(-1)
    if (last && Math.hypot(last.x - p.x, last.y - p.y) < 1e-6) return finish()
    points.value = [...points.value, p]
    if (tool.value === 'interrupt' && points.value.length === 2) return interrupt()
    if (points.value.length >= pointsAtMost(inHand.value)) finish()
  }

  /** The line or outline is done; what follows is placing. */
  function finish() {
    const need = pointsAtLeast(inHand.value)
    if (points.value.length < need) {
      refusal.value = need === 3 ? 'This needs at least three points.' : 'This needs two points.'
      return
    }
    if (tool.value === 'web') return void leaveWhole()
    drawn.value = true
    snap.value = null
    void ask()
  }

  async function leaveWhole() {
    const c: Command = { command: 'leave_whole', view: parent.value, outline: points.value }
    if (!(await desk.edit(c))) return
    points.value = []
    parent.value = ''
  }

  async function clickDepth(over: string | null) {
    const d = depthAt(over)
    if (d === null) {
      refusal.value = 'Pick the depth in a view from the side, on an edge or a center; or press Enter to cut to the middle.'
      return
    }
    depth.value = d
    await place()
  }

  async function interrupt() {
    const [a, b] = points.value
    const c: Command = { command: 'interrupt_view', view: parent.value, a, b, line: options.line }
    points.value = []
    parent.value = ''
    await desk.edit(c)
  }

  const begun = ref<EdgePart | null>(null)
  async function clickPart(s: Spot | null) {
    const index = s && desk.hitOf(s.view)
    const next = index ? hidePart(begun.value, s, index) : null
    if (!next) return
    const another = 'begun' in next && !!begun.value
    refusal.value = another ? 'That is another edge; click the same edge again.' : ''
    begun.value = 'begun' in next ? next.begun : null
    points.value = begun.value ? [{ x: begun.value.from, y: 0 }] : []
    if ('command' in next) await desk.edit(next.command)
  }

  function space() {
    if (tool.value === 'main' || tool.value === 'set') {
      own.value = null
      direction.value = (direction.value + 1) % (tool.value === 'set' ? 6 : DIRECTIONS.length)
      void ask()
    } else if (tool.value === 'section' && !drawn.value) {
      options.form = ({ straight: 'aligned', aligned: 'half', half: 'straight' } as const)[options.form]
      if (points.value.length > 1) points.value = points.value.slice(0, 1)
    } else if (tool.value === 'detail' && !points.value.length) options.shape = ({ circle: 'rectangle', rectangle: 'free', free: 'circle' } as const)[options.shape]
    else if (tool.value === 'interrupt') options.line = ({ freehand: 'zigzag', zigzag: 'round', round: 'tube', tube: 'freehand' } as const)[options.line]
  }

  async function enter() {
    if (tool.value === 'breakout' && drawn.value) {
      depth.value = depth.value ?? 0
      await place()
    } else if (!drawn.value && points.value.length) finish()
    else if (command()) await place()
  }

  function look(o: Orientation) {
    own.value = o
    void ask()
  }
  function chooseDirection(index: number) {
    own.value = null
    direction.value = index
    void ask()
  }
  const turnBy = (way: Parameters<typeof quarter>[1]) => look(quarter(orientation.value, way))

  return {
    members, projection,
    tool, pointer, spot, parent, points, drawn, snap, snapReach, ghosts, marks, refusal, options, direction, own, orientation, directionName, prompt, sketch, relation, depth,
    start, reset, back, move, click, space, enter, look, chooseDirection, turnBy, ask, show, inView,
  }
})
