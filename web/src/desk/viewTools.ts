// The tools of the Views stage. Each draws what it needs in a view, then shows what its command would do under the pointer, then does it.
import { defineStore } from 'pinia'
import { computed, reactive, ref, shallowRef } from 'vue'
import type { Command, DetailOutline, Orientation, View } from '@/api/client'
import { PLACES } from '@/words'
import { DIRECTIONS, dot, quarter, towardOf } from './directions'
import type { HitIndex } from './hit'
import { fractionOn } from './curves'
import { aligned, relationOf, type XY } from './places'
import { snapped, squared, type Snap } from './snaps'
import { setPlace, usualSet, type SetView } from './standardSet'
import type { Spot } from './spots'
import { useDesk } from './store'

export type ViewTool = 'main' | 'set' | 'projected' | 'section' | 'auxiliary' | 'detail' | 'breakout' | 'web' | 'interrupt' | 'hatch' | 'part'
export const VIEW_TOOLS: ViewTool[] = ['main', 'set', 'projected', 'section', 'auxiliary', 'detail', 'breakout', 'web', 'interrupt', 'hatch', 'part']
export interface Ghost {
  id: string
  at: XY
  scale: number
  geometry: HitIndex | null
  label: string
}
export interface Mark {
  view: string
  svg: string
}
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
  const ghosts = shallowRef<Ghost[]>([])
  const marks = shallowRef<Mark[]>([])
  const refusal = ref('')
  const depth = ref<number | null>(null)
  const direction = ref(0)
  const own = ref<Orientation | null>(null)
  const options = reactive({
    form: 'straight' as 'straight' | 'aligned' | 'half', removed: false, onlyCut: false, shape: 'circle' as DetailOutline['shape'], onlyFace: false,
    line: 'freehand' as 'freehand' | 'zigzag' | 'round' | 'tube', pattern: 'general', angle: 0, spacing: 1,
    /** Views of the standard set besides the front, once chosen; empty takes the projection method's usual ones. */
    members: null as SetView[] | null, jagged: false,
  })
  const projection = computed(() => desk.document?.projection ?? 'first')
  const members = computed<SetView[]>(() => options.members ?? usualSet(projection.value))
  let asking = false
  let again = false
  let turn = 0

  const parentView = computed<View | undefined>(() => desk.view(parent.value))
  const orientation = computed(() => own.value ?? DIRECTIONS[direction.value].orientation)
  const pictorial = computed(() => !own.value && DIRECTIONS[direction.value].pictorial)
  const directionName = computed(() => (own.value ? 'the picked face' : DIRECTIONS[direction.value].name))

  const { inView } = desk
  function onSheet(v: View, p: XY): XY {
    const f = desk.scaleOf(v)
    return { x: v.position.x + p.x * f, y: v.position.y + p.y * f }
  }

  // ---- what the tool wants next ----------------------------------------------------------------------------------------
  const steps = (first: string, ...keys: [string, string][]) => ({ say: first, keys })
  const prompt = computed(() => {
    const esc: [string, string] = ['Esc', points.value.length || parent.value ? 'one step back' : 'leave']
    const missing = 'Pick the view to take it from.'
    switch (tool.value) {
      case 'main':
        return steps(`Place the ${pictorial.value ? 'pictorial view' : 'main view'}, seen from ${own.value ? 'the picked face' : directionName.value}.`, ['Space', 'another direction'], ['Q', 'quarter turn'], ['Esc', 'leave'])
      case 'set':
        return steps('Place the set; choose its views at the right.', ['Space', 'another front'], ['Esc', 'leave'])
      case 'projected':
        return parent.value ? steps(`Place the view ${PLACES[relation.value]}; move around the picked view for another.`, ['Esc', 'another view']) : steps('Pick the view to project from.', ['Esc', 'leave'])
      case 'section':
        if (drawn.value) return steps(`Place section ${nextLetter.value}; the arrows follow its side.`, ['Esc', 'draw the line again'])
        if (!points.value.length) return steps('Start the cutting line in a view; it catches on centers, middles and ends.', ['Space', formName.value], ['Esc', 'leave'])
        if (options.form === 'half') return steps('Click the center line at which the cut ends.', esc)
        return steps(options.form === 'aligned' ? 'Click the bend, then the end of the second leg.' : 'Click the end; further clicks make steps.', ['Enter', 'line is done'], ['Space', formName.value], esc)
      case 'auxiliary':
        if (drawn.value) return steps('Place the auxiliary view square to the picked line.', ['Esc', 'pick again'])
        return steps(points.value.length ? 'Click the second point of the line it is square to.' : 'Pick a straight edge, or two points, that the view is square to.', esc)
      case 'detail':
        if (drawn.value) return steps(`Place detail ${nextLetter.value}.`, ['Esc', 'draw the outline again'])
        if (!points.value.length) return steps('Click the middle of the detail.', ['Space', `outline: ${options.shape}`], ['Esc', 'leave'])
        return options.shape === 'free' ? steps('Click around the detail.', ['Enter', 'close the outline'], esc) : steps('Click how far it reaches.', esc)
      case 'breakout':
        if (drawn.value) return steps('Pick in a side view how deep to cut, or press Enter to cut to the middle.', ['Enter', 'to the middle'], esc)
        return steps(points.value.length ? 'Click around the place to break out.' : 'Click around the place to break out, inside one view.', ...(points.value.length > 2 ? ([['Enter', 'close the outline']] as [string, string][]) : []), esc)
      case 'web':
        return steps('Click around the rib or web that the section is not to cut.', ...(points.value.length > 2 ? ([['Enter', 'close the outline']] as [string, string][]) : []), esc)
      case 'interrupt':
        return steps(points.value.length ? 'Click where the view goes on.' : 'Click where the view is to break off.', ['Space', `break line: ${options.line}`], esc)
      case 'hatch':
        return steps('Click inside a closed region to hatch it.', ['Esc', 'leave'])
      case 'part':
        return steps(points.value.length ? 'Click on the same edge where the hidden part ends.' : 'Click on an edge where the part to hide begins.', esc)
      default:
        return steps(missing)
    }
  })
  const formName = computed(() => ({ straight: 'straight or stepped', aligned: 'aligned (bent)', half: 'half' })[options.form])
  const nextLetter = computed(() => {
    const v = marks.value.length ? ghostLetter.value : ''
    return v ? `${v}-${v}` : ''
  })
  const ghostLetter = ref('')
  const relation = computed(() => {
    const v = parentView.value
    return v ? relationOf(pointer.value.x - v.position.x, pointer.value.y - v.position.y) : 'right'
  })

  // ---- the command it would make -----------------------------------------------------------------------------------------
  function outline(): DetailOutline {
    const [c, edge] = points.value
    const base = { shape: options.shape, center: c, radius: 10, width: 20, height: 20, points: [] as XY[], border: true, jagged: options.jagged, leader: true, pictorial: false }
    if (options.shape === 'free') {
      const xs = points.value.map((p) => p.x)
      const ys = points.value.map((p) => p.y)
      return { ...base, points: points.value, center: { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 } }
    }
    if (options.shape === 'circle') return { ...base, radius: Math.max(Math.hypot(edge.x - c.x, edge.y - c.y), 0.01) }
    return { ...base, width: Math.max(2 * Math.abs(edge.x - c.x), 0.01), height: Math.max(2 * Math.abs(edge.y - c.y), 0.01) }
  }

  /** A change being made by dragging, shown like the command of a tool. */
  const dragged = shallowRef<Command | null>(null)
  function show(c: Command | null) {
    dragged.value = c
    if (c) return void ask()
    turn++
    ghosts.value = []
    marks.value = []
    refusal.value = ''
  }

  function command(): Command | null {
    if (dragged.value) return dragged.value
    const position = pointer.value
    const sheet = desk.sheet?.id ?? ''
    switch (tool.value) {
      case 'main':
        return { command: 'place_main_view', sheet, orientation: orientation.value, position, pictorial: pictorial.value, fit: true }
      case 'set':
        return { command: 'place_standard_set', sheet, orientation: orientation.value, members: members.value.map((m) => setPlace(m, projection.value)), position }
      case 'projected': {
        const v = parentView.value
        return v ? { command: 'place_projected_view', parent: v.id, relation: relation.value, position: aligned(v.position, relation.value, position) } : null
      }
      case 'section':
        return drawn.value ? { command: 'place_section', parent: parent.value, points: points.value, form: options.form, position, removed: options.removed, only_cut: options.onlyCut } : null
      case 'auxiliary':
        return drawn.value ? { command: 'place_auxiliary_view', parent: parent.value, a: points.value[0], b: points.value[1], position, only_face: options.onlyFace } : null
      case 'detail':
        return drawn.value ? { command: 'place_detail', parent: parent.value, outline: outline(), position } : null
      case 'breakout':
        return drawn.value ? { command: 'break_out', view: parent.value, outline: points.value, depth: depth.value ?? 0 } : null
      default:
        return null
    }
  }

  /** Ask what the command would do; one question at a time, the latest pointer wins; again while views are being derived. */
  async function ask(): Promise<void> {
    if (asking) {
      again = true
      return
    }
    asking = true
    const mine = turn
    try {
      for (;;) {
        again = false
        const c = command()
        if (!c || mine !== turn) break
        let waiting = false
        try {
          const answer = await desk.propose(c)
          if (mine !== turn) break
          refusal.value = answer.views.find((v) => v.state === 'failed')?.error ?? ''
          ghosts.value = answer.views.map((v) => ({ id: v.view.id ?? '', at: v.view.position, scale: v.scale, geometry: desk.hits.get(v.shape) ?? null, label: directionName.value }))
          marks.value = answer.views.flatMap((v) => (v.outer ?? []).map((o) => ({ view: o.view, svg: o.svg })))
          ghostLetter.value = answer.views[0]?.view.letter ?? ''
          waiting = answer.views.some((v) => v.state === 'waiting')
        } catch (error) {
          if (mine !== turn) break
          ghosts.value = []
          marks.value = []
          refusal.value = (error as Error).message
        }
        if (waiting && !again) await new Promise((done) => setTimeout(done, 120))
        if (!again && !waiting) break
      }
    } finally {
      asking = false
      if (again && mine !== turn) void ask()
    }
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
    turn++
    tool.value = null
    parent.value = ''
    points.value = []
    drawn.value = false
    snap.value = null
    ghosts.value = []
    marks.value = []
    depth.value = null
    refusal.value = ''
    own.value = null
    again = false
  }

  /** One step back within the tool; false where there is none. */
  function back(): boolean {
    refusal.value = ''
    ghosts.value = []
    marks.value = []
    turn++
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
    const drawing = !drawn.value && ['section', 'auxiliary', 'detail', 'breakout', 'web', 'interrupt'].includes(tool.value ?? '')
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
    ghosts.value = []
    marks.value = []
    turn++
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
    const enough = { section: options.form === 'half' ? 2 : options.form === 'aligned' ? 3 : Infinity, detail: options.shape === 'free' ? Infinity : 2, auxiliary: 2, breakout: Infinity, web: Infinity }[tool.value as 'section']
    if (points.value.length >= (enough ?? Infinity)) finish()
  }

  /** The line or outline is done; what follows is placing. */
  function finish() {
    const need = { section: options.form === 'aligned' ? 3 : 2, detail: options.shape === 'free' ? 3 : 2, auxiliary: 2, breakout: 3, web: 3 }[tool.value as 'section'] ?? Infinity
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

  const partOf = ref<Spot | null>(null)
  async function clickPart(s: Spot | null) {
    if (!s) return
    const c = desk.hitOf(s.view)?.geometry.curves[s.curve]
    if (!c) return
    const f = fractionOn(c, s.at)
    const first = partOf.value
    if (!points.value.length || !first || first.view !== s.view || first.curve !== s.curve) {
      if (points.value.length) refusal.value = 'That is another edge; click the same edge again.'
      partOf.value = s
      points.value = [{ x: f, y: 0 }]
      return
    }
    const [a, b] = [points.value[0].x, f].sort((x, y) => x - y)
    const path = desk.hitOf(s.view)!.geometry.instances[c.instance]
    points.value = []
    partOf.value = null
    refusal.value = ''
    await desk.edit({ command: 'change_line', view: s.view, change: { instance: path, source: c.source, role: c.role, line: 'none', first: a, last: b } })
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

  /** What is being drawn, in sheet mm. */
  const sketch = computed(() => {
    const v = parentView.value
    if (!v || !['section', 'auxiliary', 'detail', 'breakout', 'web', 'interrupt'].includes(tool.value ?? '')) return null
    const fixed = points.value.map((p) => onSheet(v, p))
    const next = drawn.value ? null : (snap.value?.at ?? pointer.value)
    const round = tool.value === 'detail' && options.shape !== 'free'
    if (round && fixed.length) {
      const e = next ?? onSheet(v, points.value[1])
      const c = fixed[0]
      return { path: [] as XY[], closed: true, circle: options.shape === 'circle' ? { c, r: Math.hypot(e.x - c.x, e.y - c.y) } : null, box: options.shape === 'rectangle' ? { c, w: Math.abs(e.x - c.x), h: Math.abs(e.y - c.y) } : null }
    }
    const closed = (tool.value === 'breakout' || (tool.value === 'detail' && options.shape === 'free')) && drawn.value
    return { path: next && fixed.length ? [...fixed, next] : fixed, closed, circle: null, box: null }
  })

  return {
    members, projection,
    tool, pointer, spot, parent, points, drawn, snap, snapReach, ghosts, marks, refusal, options, direction, own, orientation, directionName, prompt, sketch, relation, depth,
    start, reset, back, move, click, space, enter, look, chooseDirection, turnBy, ask, show, inView,
  }
})
