import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem, type Command, type DrawingState, type ViewCurve } from '@/api/client'

const GET = vi.hoisted(() => vi.fn())
const POST = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET, POST },
  data: (call: Promise<unknown>) => call,
}))

import { useDesk } from './store'
import { DIRECTIONS } from './directions'
import { useSizeTools } from './sizeTools'
import { useTools } from './tools'
import { useViewTools } from './viewTools'

const line = (source: string, data: number[]): ViewCurve => ({ kind: 'line', data, edge_class: 'sharp', visible: true, instance: 0, source, role: 'edge', feature: source })
const geometry = { curves: [line('low', [0, 0, 10, 0]), line('high', [0, 5, 10, 5])], instances: ['part'], low: [0, 0], high: [10, 5] }
const view = { id: 'v', kind: 'main', orientation: DIRECTIONS[0].orientation, position: { x: 50, y: 60 }, parent: null, relation: null, scale: null, hidden_lines: true, tangent_edges: false, centers: true }

/** A server in memory: keeps the version, applies what the tests need of commands. */
const server = { version: 1, views: [view] as unknown[], annotations: [] as { id: string }[], commands: [] as { version: number; command: Command }[], stale: false }

function state(): DrawingState {
  const sheet = { id: 's', name: 'Sheet 1', size: 'A3', landscape: true, scale: { drawn: 1, true: 1 }, views: server.views, annotations: server.annotations }
  return {
    id: 'd', model: 'm', model_name: 'Block', model_number: '', version: server.version, can_undo: true, can_redo: false, done: '',
    document: { name: 'Block', profile: { standard: 'ISO', units: 'mm' }, projection: 'third', fields: {}, sheets: [sheet] },
  } as unknown as DrawingState
}

function preview(body: { picks: { source: string }[]; settings: { option?: string } }) {
  const sources = body.picks.map((p) => p.source)
  if (new Set(sources).size < sources.length) throw new Problem('the same edge was picked twice', 422)
  const option = body.settings.option ?? ''
  const size = { id: `a-${sources.join('-')}`, kind: 'linear', anchor: { on: 'view', view: 'v', picks: [] }, direction: option || 'aligned' }
  return { view: 'v', annotations: [size], svg: '<g/>', texts: [String(sources.length * 5)], name: 'Length', option: option || 'length', options: ['length', 'horizontal'], note: '', repeats: '', taken: [], milliseconds: 1 }
}

/** What a placing command would do: one view where it says, its curves unless they are known. */
function proposed(body: { command: { position: { x: number; y: number } }; known: string[] }) {
  const shown = { ...view, id: 'new', position: body.command.position, letter: 'A' }
  const item = { view: shown, sheet: 's', scale: 1, state: 'ready', error: '', shape: 'g2', geometry: body.known.includes('g2') ? null : geometry, outer: [] }
  return { views: [item], title: '' }
}

beforeEach(() => {
  setActivePinia(createPinia())
  Object.assign(server, { version: 1, views: [view], annotations: [], commands: [], stale: false })
  GET.mockImplementation(async (path: string) => {
    if (path.endsWith('/ink')) return { key: 'ink', svg: '', low: [0, 0], high: [10, 5] }
    if (path.endsWith('{sheet_id}')) {
      const views = server.views.map((v) => ({ id: (v as { id: string }).id, state: 'ready', error: '', shape: 'g', ink: 'ink' }))
      return { version: server.version, width: 420, height: 297, frame: '', views, outer: [], warnings: [], annotations: [], added: [], blank_fields: [] }
    }
    if (path.endsWith('/curves')) return geometry
    return state()
  })
  POST.mockImplementation(async (path: string, options: { body: never }) => {
    if (path.endsWith('/propose-annotation')) return preview(options.body)
    if (path.endsWith('/propose')) return proposed(options.body)
    const body = options.body as { version: number; command: Command }
    server.commands.push(body)
    if (server.stale || body.version !== server.version) {
      server.stale = false
      server.version++
      throw new Problem('Someone has changed this drawing meanwhile.', 409, state())
    }
    server.version++
    if (body.command?.command === 'place') server.annotations.push(...(body.command.annotations as never[]))
    if (body.command?.command === 'place_main_view') server.views = [...server.views, { ...view, id: 'w' }]
    const sheet = state().document.sheets[0]
    const patch = [{ op: 'replace', path: '/sheets/0', value: sheet }]
    return { version: server.version, patch, can_undo: true, can_redo: false, done: '' }
  })
})

async function opened() {
  const desk = useDesk()
  await desk.open('d')
  return { desk, tools: useTools() }
}
const settle = () => new Promise((done) => setTimeout(done, 5))
const spot = (curve: number) => ({ view: 'v', curve, at: { x: 5, y: 0 } })

describe('the size tool', () => {
  it('picks, shows, and places with a click beside', async () => {
    const { tools } = await opened()
    tools.start('size')
    expect(tools.prompt?.say).toContain('Pick an edge')
    tools.move({ x: 55, y: 60 }, spot(0))
    await tools.click('v')
    expect(useSizeTools().preview?.texts).toEqual(['5'])
    tools.move({ x: 55, y: 40 }, null)
    await settle()
    await tools.click(null)
    expect(server.annotations.map((a) => a.id)).toEqual(['a-low'])
    expect(tools.tool).toBe('size')
    expect(useSizeTools().picks).toEqual([])
  })
  it('takes a second edge under the pointer, also when the pointer goes on before the answer', async () => {
    const { tools } = await opened()
    tools.start('size')
    tools.move({ x: 55, y: 60 }, spot(0))
    await tools.click('v')
    tools.move({ x: 55, y: 65 }, spot(1))
    const clicked = tools.click('v')
    tools.move({ x: 30, y: 62 }, null)
    await clicked
    await settle()
    expect(useSizeTools().picks.map((p) => p.curve)).toEqual([0, 1])
    expect(useSizeTools().preview?.texts).toEqual(['10'])
    tools.enter()
    await settle()
    expect(server.annotations.map((a) => a.id)).toEqual(['a-low-high'])
  })
  it('starts from what is selected, goes through directions, and steps back', async () => {
    const { desk, tools } = await opened()
    desk.selected = [{ kind: 'curve', view: 'v', curve: 1 }]
    tools.start('size')
    await settle()
    expect(useSizeTools().preview?.texts).toEqual(['5'])
    tools.space()
    await settle()
    expect(useSizeTools().preview?.annotations[0]).toMatchObject({ direction: 'horizontal' })
    tools.back()
    expect([useSizeTools().picks.length, useSizeTools().preview, tools.tool]).toEqual([0, null, 'size'])
    tools.back()
    expect(tools.tool).toBe('select')
  })
  it('says what is wrong with a pair and keeps the first pick', async () => {
    const { tools } = await opened()
    POST.mockImplementation(async (path: string, options: { body: { picks: { source: string }[]; settings: object } }) => {
      if (path.endsWith('/propose-annotation') && options.body.picks.length === 2) throw new Problem('These lines are not parallel.', 422)
      return preview(options.body)
    })
    tools.start('size')
    tools.move({ x: 55, y: 60 }, spot(0))
    await tools.click('v')
    tools.move({ x: 55, y: 65 }, spot(1))
    await tools.click('v')
    expect(tools.refusal).toBe('These lines are not parallel.')
    expect(useSizeTools().picks.map((p) => p.curve)).toEqual([0])
  })
})

describe('the view tools', () => {
  it('carry the main view under the pointer and go on with projecting', async () => {
    const { tools } = await opened()
    tools.start('main')
    await settle()
    const views = useViewTools()
    expect(views.ghosts[0].geometry).not.toBeNull()
    tools.space()
    expect(tools.prompt?.say).toContain('top')
    tools.move({ x: 90, y: 91 }, null)
    await settle()
    expect(views.ghosts[0].at).toEqual({ x: 90, y: 91 })
    await tools.click(null)
    expect(server.commands[0].command).toMatchObject({ command: 'place_main_view', position: { x: 90, y: 91 }, pictorial: false })
    expect(tools.tool).toBe('projected')
  })
  it('keep the projected view level with its parent', async () => {
    const { desk, tools } = await opened()
    desk.selected = [{ kind: 'view', id: 'v' }]
    tools.move({ x: 150, y: 70 }, null)
    tools.start('projected')
    await settle()
    tools.move({ x: 152, y: 71 }, null)
    await settle()
    expect(useViewTools().ghosts[0].at).toEqual({ x: 152, y: 60 })
    await tools.click(null)
    expect(server.commands[0].command).toMatchObject({ command: 'place_projected_view', parent: 'v', relation: 'right', position: { x: 152, y: 60 } })
  })
})

describe('drawing a section', () => {
  const click = async (tools: ReturnType<typeof useTools>, x: number, y: number, over: string | null = 'v') => {
    tools.move({ x, y }, null, over)
    await tools.click(over)
    await settle()
  }
  it('takes a line with square steps, then a place, and says the line in view millimeters', async () => {
    const { tools } = await opened()
    useViewTools().snapReach = 0.05 // nothing near to catch on
    tools.start('section')
    await click(tools, 53, 50)
    await click(tools, 53.2, 62.4)
    await click(tools, 57, 62.5) // a step, made square
    await click(tools, 57.1, 75)
    tools.enter()
    await settle()
    expect(useViewTools().ghosts).toHaveLength(1)
    await click(tools, 120, 60, null)
    const command = server.commands[0].command as Extract<Command, { command: 'place_section' }>
    expect(command).toMatchObject({ command: 'place_section', parent: 'v', form: 'straight', position: { x: 120, y: 60 } })
    expect(command.points).toHaveLength(4)
    const [a, b, c, d] = command.points
    expect((b.x - a.x) * (c.x - b.x) + (b.y - a.y) * (c.y - b.y)).toBeCloseTo(0)
    expect((c.x - b.x) * (d.x - c.x) + (c.y - b.y) * (d.y - c.y)).toBeCloseTo(0)
    expect(tools.tool).toBe('section')
  })
  it('goes back one step at a time and ends with the tool', async () => {
    const { tools } = await opened()
    tools.start('section')
    await click(tools, 53, 50)
    await click(tools, 53, 75)
    tools.enter()
    tools.back()
    expect(useViewTools().drawn).toBe(false)
    tools.back()
    expect(useViewTools().points).toHaveLength(0)
    tools.back()
    expect(tools.tool).toBe('select')
  })
  it('asks for a view where none was hit', async () => {
    const { tools } = await opened()
    tools.start('detail')
    await click(tools, 300, 200, null)
    expect(tools.refusal).toBe('Click inside a view.')
    expect(server.commands).toHaveLength(0)
  })
})

describe('edits', () => {
  it('go one after another, each on the version before', async () => {
    const { desk } = await opened()
    await Promise.all([1, 2, 3].map((n) => desk.edit({ command: 'change_fields', fields: { title: String(n) } })))
    expect(server.commands.map((c) => c.version)).toEqual([1, 2, 3])
    expect(desk.problem).toBe('')
    expect(desk.saving).toBe(0)
  })
  it('that come too late show the current state and say so', async () => {
    const { desk } = await opened()
    server.stale = true
    expect(await desk.edit({ command: 'change_fields', fields: { title: 'mine' } })).toBe(false)
    expect(desk.problem).toContain('meanwhile')
    expect(desk.drawing?.version).toBe(2)
    expect(await desk.edit({ command: 'change_fields', fields: { title: 'mine' } })).toBe(true)
    expect(desk.problem).toBe('')
  })
  it('drop from the selection what is gone', async () => {
    const { desk } = await opened()
    desk.selected = [{ kind: 'view', id: 'v' }, { kind: 'curve', view: 'v', curve: 0 }]
    server.views = []
    await desk.edit({ command: 'remove', ids: ['v'] })
    expect(desk.selected).toEqual([])
  })
})
