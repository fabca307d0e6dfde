// What the desk holds: the drawing as the server has it, the sheet's ink, and the curves to point at.
import { defineStore } from 'pinia'
import { computed, markRaw, ref, shallowReactive, shallowRef } from 'vue'
import {
  api, data, ended, Problem,
  type Annotation, type Command, type DrawingState, type JobState, type Proposed, type Schemas, type Sheet, type SheetDrawn, type View, type ViewCurve, type ViewGeometry, type ViewInk,
} from '@/api/client'
import { HitIndex } from './hit'
import { patched } from './patch'
import { useUnderlays } from './underlays'

export type Selected = { kind: 'view'; id: string } | { kind: 'annotation'; id: string } | { kind: 'curve'; view: string; curve: number } | { kind: 'trail'; view: string; parts: string[] }

/** Nothing of a model: what the bare sheet shows by itself. */
const BARE = markRaw(new HitIndex({ curves: [], instances: [], low: [0, 0], high: [0, 0] }))

export const useDesk = defineStore('desk', () => {
  const drawing = shallowRef<DrawingState>()
  const sheetId = ref('')
  const drawn = shallowRef<SheetDrawn>()
  const inks = shallowReactive(new Map<string, ViewInk>())
  const hits = shallowReactive(new Map<string, HitIndex>())
  const points = shallowReactive(new Map<string, Schemas['PlacedPoint'][]>())
  const selected = ref<Selected[]>([])
  const said = ref('')
  const problem = ref('')
  const saving = ref(0)
  const lookingAtWarnings = ref(false)
  /** The annotation under the pointer. */
  const pointed = ref('')
  /** The sizes along the chain of the stack-up that is chosen. */
  const chained = shallowRef<string[]>([])
  /** The edge under the pointer, by instance and name. */
  const pointedEdge = ref<{ path: string; source: string } | null>(null)
  const jobs = shallowReactive(new Map<string, JobState>())
  let queue: Promise<unknown> = Promise.resolve()
  let timer = 0
  let generation = 0

  const document = computed(() => drawing.value?.document)
  const sheet = computed<Sheet | undefined>(() => document.value?.sheets.find((s) => s.id === sheetId.value) ?? document.value?.sheets[0])
  const view = (id: string): View | undefined => sheet.value?.views.find((v) => v.id === id)
  const annotationsById = computed(() => new Map(sheet.value?.annotations.map((a) => [a.id, a])))
  const annotation = (id: string): Annotation | undefined => annotationsById.value.get(id)
  const scaleOf = (v: View): number => {
    const s = v.scale ?? sheet.value!.scale
    return s.drawn / s.true
  }
  /** What things hang in: the views, and, before them, the bare sheet (id empty) at 1:1. */
  const homes = computed(() => [
    { id: '', position: { x: 0, y: 0 }, scale: 1 },
    ...(sheet.value?.views ?? []).map((v) => ({ id: v.id, position: v.position, scale: scaleOf(v) })),
  ])
  /** A place of the sheet in a view's own mm, at 1:1. */
  const inView = (v: View, p: { x: number; y: number }) => ({ x: (p.x - v.position.x) / scaleOf(v), y: (p.y - v.position.y) / scaleOf(v) })
  const viewState = (id: string) => drawn.value?.views.find((v) => v.id === id)
  /** Ink as it was, by view: shown until what follows a change is derived. */
  const before = new Map<string, ViewInk>()
  function inkOf(id: string): ViewInk | undefined {
    const state = viewState(id)
    const now = inks.get(state?.ink ?? '')
    if (now) before.set(id, now)
    return now ?? (state?.state === 'waiting' ? before.get(id) : undefined)
  }
  /** The added lines of a view, as the sheet has them. */
  const addedOf = (id: string) => drawn.value?.added.find((a) => a.view === id)
  const extraOf = (id: string): ViewCurve[] => [...((addedOf(id)?.curves ?? []) as ViewCurve[]), ...useUnderlays().curvesOf(id)]
  const withAdded = new Map<string, { base: HitIndex; curves: string; index: HitIndex }>()
  /** What of a view can be pointed at: the model's lines, and those that were added. */
  function hitOf(id: string): HitIndex | undefined {
    const base = id ? hits.get(viewState(id)?.shape ?? '') : BARE
    const extra = extraOf(id)
    if (!base || !extra.length) return base
    const curves = JSON.stringify(extra)
    const known = withAdded.get(id)
    if (known?.base === base && known.curves === curves) return known.index
    const g = base.geometry
    const more = extra.map((c) => ({ ...c, instance: g.instances.length }))
    const index = markRaw(new HitIndex({ ...g, curves: [...g.curves, ...more], instances: [...g.instances, ''] }))
    withAdded.set(id, { base, curves, index })
    return index
  }
  const deriving = computed(() => drawn.value?.views.filter((v) => v.state === 'waiting' || v.state === 'rough').length ?? 0)

  function fail(error: unknown) {
    problem.value = error instanceof Error ? error.message : String(error)
  }

  function take(sent: Schemas['DrawingState'] | Schemas['Edited']) {
    const state = 'patch' in sent ? edited(sent) : (sent as DrawingState)
    drawing.value = state
    if (state.done) said.value = state.done
    if (!state.document.sheets.some((s) => s.id === sheetId.value)) sheetId.value = state.document.sheets[0].id
    if (!selected.value.length) return
    const alive = new Set(state.document.sheets.flatMap((s) => [...s.views.map((v) => v.id), ...s.annotations.map((a) => a.id)]))
    selected.value = selected.value.filter((s) => alive.has('view' in s ? s.view : s.id))
  }
  /** The drawing after an edit's patch. */
  function edited({ patch, ...rest }: Schemas['Edited']): DrawingState {
    const before = drawing.value!
    return { ...before, ...rest, done: rest.done ?? '', document: patch.length ? patched(before.document, patch) : before.document }
  }

  async function open(id: string) {
    drawing.value = undefined
    drawn.value = undefined
    inks.clear()
    before.clear()
    hits.clear()
    withAdded.clear()
    points.clear()
    selected.value = []
    said.value = problem.value = ''
    sheetId.value = ''
    take(await data(api.GET('/api/drawings/{drawing_id}', { params: { path: { drawing_id: id } } })))
    await draw()
    void nameFeatures(id)
  }

  /** Recognized features by instance and the names of their faces and edges; a hole before anything else. */
  const features = shallowRef(new Map<string, { id: string; name: string; says: string }>())
  /** What general geometric tolerances ask of what is pointed at, of what no control frame speaks of. */
  const general = shallowRef<Schemas['General'] | null>(null)
  async function nameGeneral() {
    const id = drawing.value?.id
    if (id) general.value = await data(api.GET('/api/drawings/{drawing_id}/general-tolerances', { params: { path: { drawing_id: id } } })).catch(() => null)
  }
  async function nameFeatures(id: string) {
    features.value = new Map()
    general.value = null
    const named = await data(api.GET('/api/drawings/{drawing_id}/features', { params: { path: { drawing_id: id } } })).catch(() => null)
    if (!named?.instances || drawing.value?.id !== id) return
    const found = new Map<string, { id: string; name: string; says: string }>()
    for (const [path, part] of Object.entries(named.instances))
      for (const [n, feature] of (named.parts[part] ?? []).entries())
        for (const source of feature.sources) found.set(`${path}|${source}`, { id: `${path}|${n}`, name: feature.name, says: feature.says })
    features.value = found
  }
  const generalAt = (path: string, source: string) => general.value?.parts[general.value.instances[path] ?? '']?.[source] ?? ''
  const featureAt = (path: string, source: string) => features.value.get(`${path}|${source}`)

  /** The drawing as it is after something was said of its model. */
  async function renew() {
    const id = drawing.value?.id
    if (!id) return
    points.clear()
    await Promise.all([draw(), nameFeatures(id)])
  }

  /** The drawing as the server has it now, once the edits under way are done: none of them is taken back by an older answer. */
  async function again() {
    const id = drawing.value?.id
    if (!id) return
    const run = queue.then(async () => {
      if (drawing.value?.id !== id) return
      take(await data(api.GET('/api/drawings/{drawing_id}', { params: { path: { drawing_id: id } } })))
      await draw()
    })
    queue = run.catch(() => {})
    await run
  }

  function close() {
    generation++
    window.clearTimeout(timer)
    drawing.value = undefined
  }

  /** Try once more to derive a view that could not be derived. */
  async function deriveAgain(id: string) {
    if (!drawing.value) return
    try {
      await data(api.POST('/api/drawings/{drawing_id}/views/{view_id}/derive', { params: { path: { drawing_id: drawing.value.id, view_id: id } } }))
      await draw()
    } catch (error) {
      fail(error)
    }
  }

  /** Fetch the sheet's ink, and again while views are being derived. */
  async function draw() {
    const mine = ++generation
    window.clearTimeout(timer)
    if (!drawing.value || !sheet.value) return
    const path = { drawing_id: drawing.value.id, sheet_id: sheet.value.id }
    try {
      const now = await data(api.GET('/api/drawings/{drawing_id}/sheets/{sheet_id}', { params: { path } }))
      if (mine !== generation) return
      drawn.value = now
      await Promise.all(now.views.filter((v) => v.state !== 'waiting' && v.state !== 'failed').flatMap((v) => [loadInk(v.id, v.ink), ...(v.state === 'ready' ? [loadHits(v.id, v.shape)] : [])]))
      if (mine === generation && now.views.some((v) => v.state === 'waiting' || v.state === 'rough')) timer = window.setTimeout(draw, 200)
      else if (mine === generation && now.unmeasured) timer = window.setTimeout(draw, 1000)
    } catch (error) {
      fail(error)
      if (mine === generation) timer = window.setTimeout(draw, 2000)
    }
  }

  async function loadInk(id: string, key: string) {
    if (inks.has(key)) return
    const path = { drawing_id: drawing.value!.id, view_id: id }
    const ink = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/ink', { params: { path, query: { key } } }))
    inks.set(ink.key, markRaw(ink))
  }

  async function loadHits(id: string, key: string) {
    if (hits.has(key)) return
    const path = { drawing_id: drawing.value!.id, view_id: id }
    const geometry = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/curves', { params: { path, query: { key } } }))
    hits.set(key, markRaw(new HitIndex(geometry as ViewGeometry)))
  }

  /** The pickable points of a view; fetched when first asked for. */
  function pointsOf(id: string): Schemas['PlacedPoint'][] {
    const more = [...(addedOf(id)?.points ?? []), ...useUnderlays().pointsOf(id)]
    if (!id) return more
    const state = viewState(id)
    if (!state || state.state !== 'ready' || !drawing.value) return []
    const known = points.get(state.shape)
    if (known) return more.length ? [...known, ...more] : known
    points.set(state.shape, [])
    const path = { drawing_id: drawing.value.id, view_id: id }
    data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/points', { params: { path, query: { key: state.shape } } })).then(
      (found) => points.set(state.shape, markRaw(found)),
      () => points.delete(state.shape),
    )
    return []
  }

  /** What a command would do to the views; curves come along only where they are not known yet. */
  async function propose(command: Command): Promise<Proposed> {
    const answer = await data(api.POST('/api/drawings/{drawing_id}/propose', { params: path(), body: { command, known: [...hits.keys()] } }))
    for (const v of answer.views) if (v.geometry && v.state === 'ready') hits.set(v.shape, markRaw(new HitIndex(v.geometry as ViewGeometry)))
    return answer
  }

  /** Edits go one after another, each on the version the one before it left. */
  function inTurn(work: () => Promise<Schemas['Edited']>): Promise<boolean> {
    saving.value++
    const run = queue.then(async () => {
      try {
        problem.value = ''
        take(await work())
        await draw()
        return true
      } catch (error) {
        if (error instanceof Problem && error.state) {
          take(error.state)
          await draw()
        }
        fail(error)
        return false
      } finally {
        saving.value--
      }
    })
    queue = run
    return run
  }

  /** Once the edits under way are done: what works on what is there waits for what was asked for before it. */
  const editsDone = () => queue.then(() => undefined)

  async function showSheet(id: string) {
    sheetId.value = id
    selected.value = []
    await draw()
  }

  const path = () => ({ path: { drawing_id: drawing.value!.id } })
  const edit = (command: Command) =>
    inTurn(() => data(api.POST('/api/drawings/{drawing_id}/commands', { params: path(), body: { version: drawing.value!.version, command } })))
  const undo = () => inTurn(() => data(api.POST('/api/drawings/{drawing_id}/undo', { params: path(), body: { version: drawing.value!.version } })))
  const redo = () => inTurn(() => data(api.POST('/api/drawings/{drawing_id}/redo', { params: path(), body: { version: drawing.value!.version } })))

  function removeSelected() {
    for (const s of selected.value) {
      const v = s.kind === 'trail' ? view(s.view) : undefined
      if (s.kind === 'trail' && v) void edit({ command: 'change_view', view: s.view, trails_off: [...(v.trails_off ?? []), ...s.parts] })
    }
    const ids = selected.value.flatMap((s) => ('id' in s ? [s.id] : []))
    if (ids.length) void edit({ command: 'remove', ids })
    else selected.value = selected.value.filter((s) => s.kind !== 'trail')
  }

  async function publish(format: 'pdf' | 'pdfa' | 'checked' | 'svg' | 'dxf') {
    problem.value = ''
    try {
      const job = await data(api.POST('/api/drawings/{drawing_id}/publish', { params: path(), body: { format, sheets: [] } }))
      jobs.set(format, job)
      const end = await ended(job)
      jobs.set(format, end)
      if (end.state === 'failed') throw new Problem(end.text, 422)
      said.value = end.result.warning ? `${end.result.name} written. ${end.result.warning}` : `${end.result.name} written`
      const link = window.document.createElement('a')
      link.href = `/api/jobs/${end.id}/file`
      link.download = end.result.name
      link.click()
    } catch (error) {
      fail(error)
    }
  }

  return {
    lookingAtWarnings, pointed, chained, pointedEdge, featureAt, generalAt, nameGeneral, renew, again, drawing, document, sheet, sheetId, drawn, inks, hits, selected, said, problem, saving, deriving, jobs,
    view, homes, annotation, scaleOf, inView, viewState, inkOf, hitOf, pointsOf, open, close, draw, deriveAgain, propose, showSheet, edit, editsDone, undo, redo, removeSelected, publish, fail,
  }
})
