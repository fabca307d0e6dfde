// The tools of the Sizes stage: one Size tool that follows what is picked, runs from an origin, hole tables, and the style brush.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Annotation, type Picked, type Preview, type Schemas } from '@/api/client'
import type { XY } from './places'
import { useDesk } from './store'
import type { Spot } from './viewTools'

export type RunTool = 'chain' | 'baseline' | 'ordinate'
export type SizeTool = 'size' | RunTool | 'table' | 'brush'
export const SIZE_TOOLS: SizeTool[] = ['size', 'chain', 'baseline', 'ordinate', 'table', 'brush']
const RUNS: SizeTool[] = ['chain', 'baseline', 'ordinate']
export const SIZE_KINDS = ['linear', 'diameter', 'radius', 'angle', 'arc_length', 'chamfer', 'ordinate'] as const
export type Size = Extract<Annotation, { kind: (typeof SIZE_KINDS)[number] }>
export const isSize = (a: Annotation | undefined): a is Size => !!a && (SIZE_KINDS as readonly string[]).includes(a.kind)

export const sameSpot = (a: Spot, b: Spot) => a.view === b.view && a.curve === b.curve && JSON.stringify(a.point?.pick ?? a.axis) === JSON.stringify(b.point?.pick ?? b.axis)

export const useSizeTools = defineStore('sizeTools', () => {
  const desk = useDesk()
  const tool = ref<SizeTool | null>(null)
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const picks = ref<Spot[]>([])
  const preview = shallowRef<Preview | null>(null)
  const runPreview = shallowRef<{ view: string; svg: string; sizes?: Schemas['RunPreview']['sizes']; table?: Schemas['HoleTable']; texts: string[] } | null>(null)
  const refusal = ref('')
  const wish = ref('')
  /** A size that repeats another is placed as reference unless this is set. */
  const full = ref(false)
  /** Along which axis a run counts; empty leaves it to what is picked. */
  const axis = ref<'' | 'horizontal' | 'vertical'>('')
  const source = ref('')
  /** The run that more members are picked for. */
  const growing = ref('')
  const swept = ref(false)
  /** The questions under way; done when the last pointer is answered for. */
  let asking: Promise<void> | null = null
  let askAgain = false

  const isRun = computed(() => !!tool.value && RUNS.includes(tool.value))
  const prompt = computed(() => {
    const leave: [string, string] = ['Esc', picks.value.length ? 'pick again' : 'leave']
    if (tool.value === 'size') return sizePrompt(leave)
    if (tool.value === 'brush')
      return source.value
        ? { say: `Click the sizes that take over ${desk.drawn?.annotations.find((a) => a.id === source.value)?.text ?? 'this style'}.`, keys: [['Esc', 'another style']] as [string, string][] }
        : { say: 'Click the size whose number form and tolerance others take over.', keys: [leave] }
    if (growing.value) return { say: 'Pick what the run takes in.', keys: [['Esc', 'done']] as [string, string][] }
    const what = tool.value === 'table' ? 'holes' : 'lines, points or circles'
    if (!picks.value.length) return { say: `Pick the origin: ${tool.value === 'table' ? 'a corner, an end or a center' : 'a line, a point or a circle'}.`, keys: [leave] }
    if (picks.value.length === 1) return { say: `Pick the ${what} to size from it, or sweep a box over them.`, keys: [leave] }
    const count = runPreview.value?.texts.length ?? 0
    const keys: [string, string][] = [...(isRun.value && tool.value !== 'table' ? [['Space', 'other direction'] as [string, string]] : []), ['Enter', 'place here'], leave]
    return { say: tool.value === 'table' ? `${picks.value.length - 1} ${picks.value.length === 2 ? 'hole' : 'holes'}: pick more, or place the table.` : `${count} sizes: pick more, or place the row.`, keys }
  })
  function sizePrompt(leave: [string, string]) {
    if (!picks.value.length) return { say: spot.value?.point ? `Pick an edge, a circle or a point: ${spot.value.point.kind}.` : 'Pick an edge, a circle or a point.', keys: [['Esc', 'leave']] as [string, string][] }
    const p = preview.value
    const keys: [string, string][] = [['Enter', 'place here'], leave]
    const other = p && p.options.length > 1 ? p.options[(p.options.indexOf(p.option) + 1) % p.options.length] : ''
    if (other) keys.unshift(['Space', other])
    if (p?.repeats) keys.unshift(['F', full.value ? 'as reference' : 'in full'])
    if (!p && picks.value.length === 1) return { say: picks.value[0].point ? `Pick a second thing to size from this ${picks.value[0].point.kind}.` : 'Pick a second thing.', keys: [leave] }
    const name = `${p?.kind ?? 'Size'} ${p?.text ?? ''}`
    const why = p?.repeats ? ', said already as ' + p.repeats : ''
    if (p?.note) return { say: `${name}: ${p.note}`, keys }
    if (picks.value.length === 1) return { say: `${name}${why}: place it, or pick a second thing for a distance or an angle.`, keys }
    return { say: `${name}${why}: place it.`, keys }
  }

  function start(name: SizeTool) {
    const curves = desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))
    const sizes = desk.selected.flatMap((s) => (s.kind === 'annotation' && isSize(desk.annotation(s.id)) ? [s.id] : []))
    reset()
    tool.value = name
    if (name === 'brush' && sizes.length === 1) source.value = sizes[0]
    if (name !== 'brush') {
      picks.value = curves.slice(0, name === 'size' ? 2 : 200).map((s) => ({ view: s.view, curve: s.curve, at: { x: 0, y: 0 } }))
      if (picks.value.length) void ask()
    }
  }
  function reset() {
    tool.value = null
    picks.value = []
    preview.value = null
    runPreview.value = null
    refusal.value = ''
    wish.value = ''
    axis.value = ''
    full.value = false
    source.value = ''
    growing.value = ''
  }
  /** Picks go into a run that is there already. */
  function grow(run: string, form: RunTool) {
    reset()
    tool.value = form
    growing.value = run
  }
  /** One step back; whether there was one. */
  function back(): boolean {
    refusal.value = ''
    if (tool.value === 'brush' && source.value) {
      source.value = ''
      return true
    }
    if (!picks.value.length) return false
    picks.value = tool.value === 'size' || picks.value.length < 3 ? picks.value.slice(0, -1) : []
    preview.value = null
    runPreview.value = null
    wish.value = ''
    if (picks.value.length) void ask()
    return true
  }

  function picked(spot: Spot, alone = false): Picked {
    const s = alone && spot.on ? { view: spot.view, ...spot.on } as Spot : spot
    if (s.point) {
      const p = s.point.pick
      return { instance: p.instance, source: p.source, role: p.role ?? 'edge', at: s.at, point: p.point ?? '', quarter: p.quarter ?? 0, other: p.other ?? null, axis: false }
    }
    if (s.axis) return { instance: s.axis.instance, source: s.axis.source, role: 'silhouette', at: s.at, point: '', quarter: 0, other: null, axis: true }
    const g = desk.hitOf(s.view)!.geometry
    const c = g.curves[s.curve]
    return { instance: g.instances[c.instance], source: c.source, role: c.role, at: s.at, point: '', quarter: 0, other: null, axis: false }
  }

  /** Ask the server for what would be placed here; one question under way at a time, the latest pointer wins. */
  function ask(): Promise<void> {
    askAgain = true
    asking ??= (async () => {
      try {
        while (askAgain && tool.value && picks.value.length) {
          askAgain = false
          await (tool.value === 'size' ? askSize() : askRun())
        }
      } finally {
        asking = null
      }
    })()
    return asking
  }
  const path = () => ({ path: { drawing_id: desk.drawing!.id } })

  async function askSize() {
    const other = second()
    const now = other ? [...picks.value, other] : picks.value
    if (!now.length) return
    const answer = await question(now)
    if (typeof answer !== 'string') {
      if (tool.value === 'size' && picks.value.length) preview.value = answer
      return
    }
    if (now.length > picks.value.length) {
      const alone = await question(picks.value)
      if (typeof alone !== 'string') {
        if (tool.value === 'size' && picks.value.length) preview.value = alone
        return
      }
    }
    preview.value = null
    if (!picks.value.every((p) => p.point)) refusal.value = answer
  }
  async function question(spots: Spot[]): Promise<Preview | string> {
    const body = { view: spots[0].view, picks: spots.map((s) => picked(s, spots.length === 1)), pointer: pointer.value, wish: wish.value }
    try {
      return await data(api.POST('/api/drawings/{drawing_id}/preview', { params: path(), body }))
    } catch (error) {
      return (error as Error).message
    }
  }
  async function askRun() {
    if (picks.value.length < 2 || !tool.value) {
      runPreview.value = null
      return
    }
    const body = { view: picks.value[0].view, picks: picks.value.map((s) => picked(s)), pointer: pointer.value }
    try {
      if (tool.value === 'table') {
        const answer = await data(api.POST('/api/drawings/{drawing_id}/hole-table', { params: path(), body }))
        runPreview.value = { view: answer.view, svg: answer.svg, table: answer.table, texts: [] }
      } else {
        const asked = picks.value
        const answer = await data(api.POST('/api/drawings/{drawing_id}/run', { params: path(), body: { ...body, form: tool.value as RunTool, direction: axis.value, swept: swept.value } }))
        if (swept.value && picks.value === asked && answer.kept.length < asked.length) picks.value = answer.kept.map((n) => asked[n])
        swept.value = false
        runPreview.value = { view: answer.view, svg: answer.svg, sizes: answer.sizes, texts: answer.texts }
      }
      refusal.value = ''
    } catch (error) {
      runPreview.value = null
      refusal.value = (error as Error).message
    }
  }

  /** Another thing of the same view under the pointer that may join the picks. */
  function second(): Spot | null {
    const s = spot.value
    const first = picks.value[0]
    if (!s || !first || s.view !== first.view || picks.value.some((p) => sameSpot(p, s))) return null
    if (picks.value.length === 1) return s
    return picks.value.length === 2 && s.point && picks.value.every((p) => p.point) ? s : null
  }

  let pending: Promise<void> | null = null
  async function placeSize() {
    await pending
    pending = null
    await asking // what is placed is what stands at the pointer now
    if (!preview.value && picks.value.length) await ask()
    if (!preview.value) return
    const kept = { picks: picks.value, preview: preview.value }
    const annotation = full.value ? { ...preview.value.annotation, wording: { ...preview.value.annotation.wording, reference: false } } : preview.value.annotation
    picks.value = []
    preview.value = null
    wish.value = ''
    full.value = false
    if (!(await desk.edit({ command: 'place_annotation', annotation })) && tool.value === 'size') {
      picks.value = kept.picks
      preview.value = kept.preview
    }
  }
  async function placeRun() {
    await asking
    if (!runPreview.value) await ask()
    const now = runPreview.value
    if (!now) return
    const kept = picks.value
    picks.value = []
    runPreview.value = null
    axis.value = ''
    const done = now.table ? await desk.edit({ command: 'place_annotation', annotation: now.table }) : await desk.edit({ command: 'place_sizes', sizes: now.sizes! })
    if (!done && tool.value) picks.value = kept
  }

  // ---- pointer and keys --------------------------------------------------------------------------------------------
  function move(at: XY, under: Spot | null) {
    pointer.value = at
    if (!(under && spot.value && sameSpot(under, spot.value)) && tool.value === 'size') refusal.value = '' // it was about what was under the pointer before
    spot.value = under
    if (picks.value.length && tool.value !== 'brush' && !growing.value) void ask()
  }

  async function click(annotation: string) {
    const s = spot.value
    refusal.value = ''
    if (tool.value === 'brush') return brush(annotation)
    if (growing.value) {
      if (s) await desk.edit({ command: 'change_run', run: growing.value, add: [pickOf(s)] })
      return
    }
    if (tool.value === 'size') return clickSize(s)
    if (!s) return picks.value.length > 1 ? placeRun() : undefined
    if (picks.value.length && picks.value[0].view !== s.view) {
      refusal.value = 'All picks of a run are in the same view.'
      return
    }
    const before = picks.value
    if (!before.some((p) => sameSpot(p, s))) picks.value = [...before, s]
    await ask()
    if (refusal.value && before.length) picks.value = before // what does not fit the run is not kept
  }
  /** The pick as the drawing keeps it; outlines keep the side the server found for the preview. */
  function pickOf(s: Spot): Schemas['Pick'] {
    const p = picked(s)
    return { instance: p.instance, source: p.source, role: p.role, point: p.point, quarter: p.quarter, other: p.other, side: 0 }
  }
  async function clickSize(s: Spot | null) {
    if (!picks.value.length) {
      if (!s) return
      picks.value = [s]
      await ask()
      return
    }
    const other = second() // the pointer goes on while the server answers
    if (!other) return placeSize()
    const before = picks.value
    picks.value = [...before, other]
    // Enter may follow before the server has answered: placing waits for it
    pending = question(picks.value).then((answer) => {
      if (typeof answer === 'string') {
        picks.value = before
        refusal.value = answer
      } else {
        preview.value = answer
        void ask()
      }
    })
    await pending
  }
  async function brush(id: string) {
    if (!isSize(desk.annotation(id))) {
      refusal.value = 'Click the number or the line of a size.'
      return
    }
    if (!source.value) source.value = id
    else if (id !== source.value) await desk.edit({ command: 'copy_size_style', source: source.value, ids: [id] })
  }

  /** Everything of the first pick's view within a box (sheet mm) joins the run: circles, and lines square to its direction. */
  async function sweep(a: XY, b: XY) {
    const first = picks.value[0]
    const v = first && desk.view(first.view)
    const index = first && desk.hitOf(first.view)
    if (!first || !v || !index || tool.value === 'size' || tool.value === 'brush') return
    const k = desk.scaleOf(v)
    const inside = (x: number, y: number) => {
      const sx = v.position.x + x * k
      const sy = v.position.y + y * k
      return sx >= Math.min(a.x, b.x) && sx <= Math.max(a.x, b.x) && sy >= Math.min(a.y, b.y) && sy <= Math.max(a.y, b.y)
    }
    const found: Spot[] = []
    index.geometry.curves.forEach((c, curve) => {
      const d = c.data
      if (!c.visible || !c.source || c.edge_class === 'smooth' || c.role === 'silhouette') return
      const circle = c.kind === 'arc' && inside(d[0] - d[2], d[1] - d[2]) && inside(d[0] + d[2], d[1] + d[2])
      const straight = tool.value !== 'table' && c.kind === 'line' && inside(d[0], d[1]) && inside(d[2], d[3]) && (Math.abs(d[0] - d[2]) < 1e-6 || Math.abs(d[1] - d[3]) < 1e-6)
      const whole = c.kind !== 'arc' || tool.value !== 'table' || d[4] - d[3] > Math.PI * 1.99
      if ((circle && whole) || straight) found.push({ view: first.view, curve, at: { x: d[0], y: d[1] } })
    })
    const level = found.filter((s) => {
      const c = index.geometry.curves[s.curve]
      if (c.kind !== 'line') return true
      return axis.value !== 'vertical' ? Math.abs(c.data[0] - c.data[2]) < 1e-6 : Math.abs(c.data[1] - c.data[3]) < 1e-6
    })
    const seen = new Set(picks.value.map((p) => (p.curve >= 0 ? index.geometry.curves[p.curve].source : '')))
    picks.value = [...picks.value, ...level.filter((s) => !seen.has(index.geometry.curves[s.curve].source))]
    swept.value = tool.value !== 'table'
    await ask()
  }

  function space() {
    if (tool.value === 'size' && preview.value) {
      const { options, option } = preview.value
      if (options.length > 1) {
        wish.value = options[(options.indexOf(option) + 1) % options.length]
        void ask()
      }
    } else if (isRun.value) {
      axis.value = axis.value === 'vertical' ? 'horizontal' : 'vertical'
      void ask()
    }
  }
  function enter() {
    if (tool.value === 'size') void placeSize()
    else if (tool.value !== 'brush') void placeRun()
  }
  /** In hand: a repeated size in full or as reference. Else the arrows of the selected sizes are flipped. */
  async function flip() {
    if (tool.value === 'size' && preview.value?.repeats) {
      full.value = !full.value
      return
    }
    const sizes = desk.selected.flatMap((s) => (s.kind === 'annotation' && isSize(desk.annotation(s.id)) ? [desk.annotation(s.id) as Size] : []))
    if (!sizes.length) return
    const next = { fit: 'out', out: 'in', in: 'fit' } as const
    await desk.edit({ command: 'change_sizes', ids: sizes.map((s) => s.id), arrows: next[sizes[0].arrows] })
  }

  /** Rows and leaders of the selected views, or of all, put in order; each view in one step. */
  async function tidy() {
    const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : s.kind === 'annotation' ? [desk.annotation(s.id)?.view ?? ''] : []))
    const views = [...new Set(chosen.length ? chosen : (desk.sheet?.views ?? []).map((v) => v.id))]
    let moved = 0
    try {
      for (const id of views) {
        const answer = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/tidy', { params: { path: { ...path().path, view_id: id } } }))
        if (answer.moves.length && (await desk.edit({ command: 'arrange_sizes', moves: answer.moves }))) moved += answer.moves.length
      }
      if (!moved) desk.said = 'There are no sizes to tidy'
    } catch (error) {
      desk.fail(error)
    }
  }

  /** The offsets and angles of the assembly's mates, as sizes in the views of this sheet, in one step. */
  async function bring() {
    try {
      const answer = await data(api.GET('/api/drawings/{drawing_id}/sheets/{sheet_id}/mate-sizes', { params: { path: { ...path().path, sheet_id: desk.sheet!.id } } }))
      const n = answer.sizes.length
      if (n && !(await desk.edit({ command: 'place_sizes', sizes: answer.sizes as Size[] }))) return
      desk.said = [n ? `${n} ${n === 1 ? 'size' : 'sizes'} brought from the model` : 'No size is missing here', ...answer.left_out].join('; ').replaceAll('.;', ';')
    } catch (error) {
      desk.fail(error)
    }
  }

  return { bring, tool, pointer, spot, picks, preview, runPreview, refusal, prompt, wish, full, axis, source, growing, isRun, start, reset, grow, back, move, click, sweep, space, enter, flip, tidy }
})
