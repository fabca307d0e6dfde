// The tools of the Sizes stage: one Size tool that follows what is picked, runs from an origin, hole tables, and the style brush.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Annotation, type Answer, type Schemas } from '@/api/client'
import { latest } from './latest'
import type { XY } from './places'
import { sizePrompt } from './sizePrompt'
import { isSize } from './sizes'
import { picked, pickedAll, sameSpot, type Spot } from './spots'
import { useDesk } from './store'
import { sweptSpots } from './sweep'

export type RunTool = 'chain' | 'baseline' | 'ordinate'
export type SizeTool = 'size' | RunTool | 'table' | 'brush'
export const SIZE_TOOLS: SizeTool[] = ['size', 'chain', 'baseline', 'ordinate', 'table', 'brush']
const RUNS: SizeTool[] = ['chain', 'baseline', 'ordinate']

export const useSizeTools = defineStore('sizeTools', () => {
  const desk = useDesk()
  const tool = ref<SizeTool | null>(null)
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const picks = ref<Spot[]>([])
  /** What would be placed: a size, the sizes of a run, or a table. */
  const preview = shallowRef<Answer | null>(null)
  const refusal = ref('')
  /** The way to size that Space went on to; empty leaves it to the pointer. */
  const option = ref('')
  /** A size that repeats another is placed as reference unless this is set. */
  const full = ref(false)
  /** Along which axis a run counts; empty leaves it to what is picked. */
  const axis = ref<'' | 'horizontal' | 'vertical'>('')
  const source = ref('')
  /** The run that more members are picked for. */
  const growing = ref('')
  const swept = ref(false)

  const isRun = computed(() => !!tool.value && RUNS.includes(tool.value))
  const prompt = computed(() =>
    sizePrompt({
      tool: tool.value ?? '', picks: picks.value, spot: spot.value, answer: preview.value, full: full.value, growing: !!growing.value,
      copied: source.value && (desk.drawn?.annotations.find((a) => a.id === source.value)?.text ?? 'this style'),
    }),
  )

  function start(name: SizeTool) {
    const curves = desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))
    const sizes = desk.selected.flatMap((s) => (s.kind === 'annotation' && isSize(desk.annotation(s.id)) ? [s.id] : []))
    reset()
    tool.value = name
    if (name === 'brush' && sizes.length === 1) source.value = sizes[0]
    if (name === 'brush') return
    picks.value = curves.slice(0, name === 'size' ? 2 : 200).map((s) => ({ view: s.view, curve: s.curve, at: { x: 0, y: 0 } }))
    if (picks.value.length) void asking.run()
  }
  function forget() {
    picks.value = []
    preview.value = null
    option.value = ''
    axis.value = ''
    full.value = false
  }
  function reset() {
    tool.value = null
    forget()
    refusal.value = ''
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
    option.value = ''
    if (picks.value.length) void asking.run()
    return true
  }

  // ---- asking what would be placed here ----------------------------------------------------------------------------
  const asking = latest(async () => {
    if (!tool.value || !picks.value.length) return
    await (tool.value === 'size' ? askSize() : askRun())
  })
  async function question(spots: Spot[], settings: Schemas['Asked']['settings']): Promise<Answer | string> {
    const alone = tool.value === 'size' && spots.length === 1
    const name = tool.value === 'size' ? 'size' : tool.value === 'table' ? 'hole_table' : 'run'
    const body = { tool: name, view: spots[0].view, sheet: desk.sheet!.id, picks: pickedAll(spots, alone), pointer: pointer.value, reach: 0, settings }
    try {
      return (await data(api.POST('/api/drawings/{drawing_id}/propose-annotation', { params: { path: { drawing_id: desk.drawing!.id } }, body }))) as Answer
    } catch (error) {
      return (error as Error).message
    }
  }
  const asSize = (spots: Spot[]) => question(spots, { option: option.value })
  /** The picks with what is under the pointer, or where that makes nothing, alone. */
  async function askSize() {
    const other = second()
    const now = other ? [...picks.value, other] : picks.value
    let answer = await asSize(now)
    const problem = answer
    if (typeof answer === 'string' && other) answer = await asSize(picks.value)
    if (tool.value !== 'size' || !picks.value.length) return
    preview.value = typeof answer === 'string' ? null : answer
    if (typeof answer === 'string' && !picks.value.every((p) => p.point)) refusal.value = problem as string
  }
  async function askRun() {
    if (picks.value.length < 2) {
      preview.value = null
      return
    }
    const asked = picks.value
    const answer = await question(asked, tool.value === 'table' ? {} : { form: tool.value!, direction: axis.value, swept: swept.value })
    if (picks.value !== asked || !tool.value) return
    if (typeof answer === 'string') {
      preview.value = null
      refusal.value = answer
      return
    }
    if (swept.value && answer.taken.length < asked.length) picks.value = answer.taken.map((n) => asked[n])
    swept.value = false
    preview.value = answer
    refusal.value = ''
  }
  /** Another thing of the same view under the pointer that may join the picks. */
  function second(): Spot | null {
    const s = spot.value
    const first = picks.value[0]
    if (!s || !first || first.ring || s.ring || s.view !== first.view || picks.value.some((p) => sameSpot(p, s))) return null
    if (picks.value.length === 1) return s
    return picks.value.length === 2 && s.point && picks.value.every((p) => p.point) ? s : null
  }

  // ---- placing -----------------------------------------------------------------------------------------------------
  let pending: Promise<void> | null = null
  async function place() {
    await pending
    pending = null
    await asking.settled() // what is placed is what stands at the pointer now
    if (!preview.value && picks.value.length) await asking.run()
    const answer = preview.value
    if (!answer) return
    const kept = picks.value
    const annotations = full.value ? answer.annotations.map((a) => (isSize(a) ? { ...a, wording: { ...a.wording, reference: false } } : a)) : answer.annotations
    forget()
    if ((await desk.edit({ command: 'place', annotations: annotations as Annotation[], sheet: desk.sheet!.id, known: 'refuse' })) || !tool.value) return
    picks.value = kept
    preview.value = tool.value === 'size' ? answer : null
  }

  // ---- pointer and keys --------------------------------------------------------------------------------------------
  function move(at: XY, under: Spot | null) {
    pointer.value = at
    if (!(under && spot.value && sameSpot(under, spot.value)) && tool.value === 'size') refusal.value = '' // it was about what was under the pointer before
    spot.value = under
    if (picks.value.length && tool.value !== 'brush' && !growing.value) void asking.run()
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
    if (!s) return picks.value.length > 1 ? place() : undefined
    if (picks.value.length && picks.value[0].view !== s.view) {
      refusal.value = 'All picks of a run are in the same view.'
      return
    }
    const before = picks.value
    if (!before.some((p) => sameSpot(p, s))) picks.value = [...before, s]
    await asking.run()
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
      await asking.run()
      return
    }
    const other = second() // the pointer goes on while the server answers
    if (!other) return place()
    const before = picks.value
    picks.value = [...before, other]
    // Enter may follow before the server has answered: placing waits for it
    pending = asSize(picks.value).then((answer) => {
      if (typeof answer === 'string') {
        picks.value = before
        refusal.value = answer
      } else {
        preview.value = answer
        void asking.run()
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
  /** Whether a box may be swept over what joins the picks. */
  const canSweep = () => tool.value !== 'size' && tool.value !== 'brush' && picks.value.length > 0
  /** Everything of the first pick's view within a box (sheet mm) joins the run. */
  async function sweep(from: XY, to: XY) {
    const first = picks.value[0]
    const home = first && desk.homes.find((h) => h.id === first.view)
    const index = first && desk.hitOf(first.view)
    if (!home || !index || !canSweep()) return
    const curves = index.geometry.curves
    const found = sweptSpots({ curves, view: home.id, position: home.position, scale: home.scale, from, to, circlesOnly: tool.value === 'table', axis: axis.value })
    const seen = new Set(picks.value.map((p) => (p.curve >= 0 ? curves[p.curve].source : '')))
    picks.value = [...picks.value, ...found.filter((s) => !seen.has(curves[s.curve].source))]
    swept.value = tool.value !== 'table'
    await asking.run()
  }

  function space() {
    if (tool.value === 'size' && preview.value) {
      const { options, option: now } = preview.value
      if (options.length < 2) return
      option.value = options[(options.indexOf(now) + 1) % options.length]
    } else if (isRun.value) axis.value = axis.value === 'vertical' ? 'horizontal' : 'vertical'
    else return
    void asking.run()
  }
  function enter() {
    if (tool.value !== 'brush') void place()
  }
  /** A repeated size in hand goes in in full, or as reference; whether there is one. */
  function flip(): boolean {
    if (tool.value !== 'size' || !preview.value?.repeats) return false
    full.value = !full.value
    return true
  }

  return { tool, pointer, spot, picks, preview, refusal, prompt, option, full, axis, source, growing, isRun, start, reset, grow, back, move, click, canSweep, sweep, space, enter, flip }
})
