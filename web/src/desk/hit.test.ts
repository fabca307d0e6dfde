import { describe, expect, it } from 'vitest'
import type { ViewCurve, ViewGeometry } from '@/api/client'
import { flattened, pathOf } from './curves'
import { HitIndex, isShown } from './hit'

const curve = (kind: ViewCurve['kind'], data: number[], more: Partial<ViewCurve> = {}): ViewCurve => ({
  kind, data, edge_class: 'sharp', visible: true, instance: 0, source: 's', role: 'edge', feature: 'f', ...more,
})
const all = { hidden: true, tangent: true }
const index = (...curves: ViewCurve[]) => new HitIndex({ curves, instances: ['p'], low: [0, 0], high: [1, 1] })

describe('curves', () => {
  it('are flattened close to the true curve', () => {
    const points = flattened(curve('arc', [5, 6, 10, 0, 2 * Math.PI]))
    for (let i = 0; i < points.length; i += 2) expect(Math.hypot(points[i] - 5, points[i + 1] - 6)).toBeCloseTo(10)
    const e = flattened(curve('ellipse', [0, 0, 8, 0, 0.5, 0, Math.PI / 2]))
    expect(e.slice(0, 2)).toEqual([8, 0])
    expect(e.at(-1)).toBeCloseTo(4)
  })
  it('turn y over in their path', () => {
    expect(pathOf([curve('line', [0, 0, 1, 2])], 2)).toBe('M0.000 0.000L2.000 -4.000')
  })
})

describe('what lies under the pointer', () => {
  it('is the nearest curve within reach', () => {
    const i = index(curve('line', [0, 0, 10, 0]), curve('line', [0, 1, 10, 1]))
    expect(i.nearest(5, 0.2, 2, all)).toBe(0)
    expect(i.nearest(5, 0.9, 2, all)).toBe(1)
    expect(i.nearest(5, 9, 2, all)).toBe(-1)
  })
  it('is a visible curve rather than a hidden one at the same place, and nothing that is not shown', () => {
    const i = index(curve('line', [0, 0, 10, 0], { visible: false }), curve('line', [0, 0.1, 10, 0.1]), curve('line', [0, 5, 9, 5], { edge_class: 'smooth' }))
    expect(i.nearest(5, 0, 1, all)).toBe(1)
    expect(i.nearest(5, 5, 1, { hidden: true, tangent: false })).toBe(-1)
    expect(i.nearest(5, 5, 1, all)).toBe(2)
    expect(index(curve('line', [0, 0, 9, 0], { visible: false })).nearest(1, 0, 1, { hidden: false, tangent: true })).toBe(-1)
    expect(index().nearest(0, 0, 1, all)).toBe(-1)
  })
})

describe('parts and trails under a place', () => {
  const geometry = {
    curves: [],
    instances: ['a', 'b'],
    low: [0, 0],
    high: [3, 2],
    // two rows of three cells, from the lower left: a a -, b - b
    seen: { left: 0, bottom: 0, cell: 1, columns: 3, rows: 2, runs: [2, 0, 1, -1, 1, 1, 1, -1, 1, 1] },
    trails: [{ instances: ['a', 'b'], data: [0, 5, 10, 5] }],
  }
  const index = new HitIndex(geometry as unknown as ViewGeometry)
  it('tells the part that is seen there', () => {
    const at = (x: number, y: number) => index.instanceAt(x, y)
    expect([at(0.5, 0.5), at(1.5, 0.5), at(2.5, 0.5), at(0.5, 1.5), at(1.5, 1.5), at(2.5, 1.5)]).toEqual(['a', 'a', '', 'b', '', 'b'])
    expect([at(-0.1, 0.5), at(3.1, 0.5), at(0.5, 2.5)]).toEqual(['', '', ''])
  })
  it('tells a trail within reach, unless all of its parts are left out', () => {
    expect(index.trailAt(4, 5.5, 1, [])).toEqual(['a', 'b'])
    expect(index.trailAt(4, 6.5, 1, [])).toBeNull()
    expect(index.trailAt(4, 5.5, 1, ['a'])).toEqual(['a', 'b'])
    expect(index.trailAt(4, 5.5, 1, ['a', 'b'])).toBeNull()
  })
  it('shows hidden lines but of parts without them', () => {
    const hidden = { visible: false, instance: 1, edge_class: 'sharp' } as unknown as ViewCurve
    expect(isShown(hidden, { hidden: true, tangent: false })).toBe(true)
    expect(isShown(hidden, { hidden: true, tangent: false, without: new Set([1]) })).toBe(false)
  })
})
