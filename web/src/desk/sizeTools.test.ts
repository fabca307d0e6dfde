import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem, type ViewCurve } from '@/api/client'

const GET = vi.hoisted(() => vi.fn())
const POST = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<typeof import('@/api/client')>()),
  api: { GET, POST },
  data: (call: Promise<unknown>) => call,
}))

import { HitIndex } from './hit'
import { isSize } from './sizes'
import { useSizeTools } from './sizeTools'
import { useDesk } from './store'

const shape = { edge_class: 'sharp', visible: true, instance: 0, role: 'edge', feature: 'f' } as const
const curves: ViewCurve[] = [
  { ...shape, kind: 'line', data: [0, 0, 0, 20], source: 'left' },
  { ...shape, kind: 'line', data: [30, 2, 30, 10], source: 'riser' },
  { ...shape, kind: 'line', data: [5, 2, 25, 2], source: 'level' },
  { ...shape, kind: 'arc', data: [15, 6, 2, 0, 2 * Math.PI], source: 'hole' },
  { ...shape, kind: 'line', data: [40, 2, 40, 10], source: 'behind', visible: false },
]
const geometry = { curves, instances: ['part'], low: [0, 0], high: [40, 20] }
const size = { kind: 'linear', id: 'old', view: 'v', wording: {}, tolerance: { form: 'none' }, arrows: 'fit' }
const asked: { path: string; body: Record<string, unknown> }[] = []
let refuse = ''

function desk() {
  const d = useDesk()
  const view = { id: 'v', kind: 'main', position: { x: 100, y: 50 }, scale: null }
  const sheet = { id: 's', scale: { drawn: 2, true: 1 }, views: [view], annotations: [size] }
  d.drawing = { id: 'd', version: 1, document: { sheets: [sheet], profile: {} } } as never
  d.sheetId = 's'
  d.drawn = { views: [{ id: 'v', state: 'ready', shape: 'g', ink: 'i' }], annotations: [{ id: 'old', text: '12' }], added: [] } as never
  d.hits.set('g', new HitIndex(geometry))
  return d
}
const spot = (curve: number) => ({ view: 'v', curve, at: { x: 0, y: 5 } })

beforeEach(() => {
  setActivePinia(createPinia())
  asked.length = 0
  refuse = ''
  GET.mockImplementation(async () => ({ views: [], annotations: [], added: [] }))
  POST.mockImplementation(async (path: string, { body }: { body: { tool: string; picks: unknown[]; settings?: { option?: string } } }) => {
    asked.push({ path, body })
    if (refuse) throw new Problem(refuse, 422)
    const answer = { view: 'v', annotations: [{}], svg: '<g/>', option: '', options: [], note: '', repeats: '', milliseconds: 1, taken: body.picks?.map((_, n) => n) }
    if (body.tool === 'run') return { ...answer, texts: body.picks.slice(1).map(String) }
    if (body.tool === 'hole_table') return { ...answer, texts: ['Hole table'] }
    const size = { kind: 'linear', anchor: { on: 'view', view: 'v', picks: [] }, wording: { reference: true } }
    return { ...answer, annotations: [size], texts: ['(12)'], name: 'Length', option: body.settings?.option || 'length', options: ['length', 'vertical'], repeats: '12' }
  })
})

describe('runs', () => {
  it('sweep in what lies in the box and is square to their direction, once', async () => {
    desk()
    const tools = useSizeTools()
    tools.start('ordinate')
    tools.move({ x: 100, y: 60 }, spot(0))
    await tools.click('')
    await tools.sweep({ x: 102, y: 51 }, { x: 190, y: 75 })
    expect(tools.picks.map((p) => curves[p.curve].source)).toEqual(['left', 'riser', 'hole'])
    expect(asked.at(-1)?.body).toMatchObject({ tool: 'run', settings: { form: 'ordinate', swept: true } })
    await tools.sweep({ x: 102, y: 51 }, { x: 190, y: 75 })
    expect(tools.picks.length).toBe(3)
    tools.space()
    expect(tools.axis).toBe('vertical')
  })
  it('do not keep a pick that does not fit, and say why', async () => {
    desk()
    const tools = useSizeTools()
    tools.start('chain')
    for (const n of [0, 1]) {
      tools.move({ x: 100, y: 60 }, spot(n))
      await tools.click('')
    }
    refuse = 'A line that is not square has no one ordinate.'
    tools.move({ x: 110, y: 54 }, spot(2))
    await tools.click('')
    expect(tools.picks.length).toBe(2)
    tools.back()
    expect(tools.picks.length).toBe(1)
  })
  it('of a table take whole circles only', async () => {
    desk()
    const tools = useSizeTools()
    tools.start('table')
    tools.move({ x: 100, y: 60 }, spot(0))
    await tools.click('')
    await tools.sweep({ x: 102, y: 51 }, { x: 190, y: 75 })
    expect(tools.picks.map((p) => curves[p.curve].source)).toEqual(['left', 'hole'])
    expect(tools.prompt.say).toContain('1 hole:')
  })
})

describe('a size said already', () => {
  it('is placed as reference, or in full by F', async () => {
    desk()
    const tools = useSizeTools()
    tools.start('size')
    tools.move({ x: 100, y: 60 }, spot(0))
    await tools.click('')
    expect(tools.prompt.say).toContain('said already as 12')
    await tools.flip()
    expect(tools.full).toBe(true)
    tools.enter()
    await vi.waitFor(() => expect(asked.at(-1)?.path).toContain('/commands'))
    expect(asked.at(-1)?.body).toMatchObject({ command: { command: 'place', annotations: [{ wording: { reference: false } }] } })
  })
})

describe('the style brush', () => {
  it('takes its source first, then paints, and wants sizes', async () => {
    const d = desk()
    const tools = useSizeTools()
    tools.start('brush')
    await tools.click('nothing')
    expect(tools.refusal).toContain('of a size')
    await tools.click('old')
    expect(tools.source).toBe('old')
    expect(isSize(d.annotation('old'))).toBe(true)
    expect(tools.back()).toBe(true)
    expect(tools.source).toBe('')
  })
})
