import { describe, expect, it } from 'vitest'
import type { ViewCurve } from '@/api/client'
import { fractionOn } from './curves'
import { DIRECTIONS, dot, quarter, seenFrom, towardOf } from './directions'
import { HitIndex } from './hit'
import { snapped, squared } from './snaps'

const curve = (kind: ViewCurve['kind'], data: number[]): ViewCurve => ({ kind, data, edge_class: 'sharp', visible: true, instance: 0, source: 's', role: 'edge', feature: 'f' })
const index = new HitIndex({ curves: [curve('line', [0, 0, 10, 0]), curve('arc', [30, 5, 4, 0, 6.28])], instances: ['part'], low: [0, 0], high: [34, 9] })

describe('a drawn line', () => {
  it('catches on ends, middles and centers, and else stands level with them', () => {
    expect(snapped(index, { x: 0.4, y: 0.3 }, 1)).toEqual({ at: { x: 0, y: 0 }, kind: 'end' })
    expect(snapped(index, { x: 5.3, y: -0.2 }, 1)).toEqual({ at: { x: 5, y: 0 }, kind: 'middle' })
    expect(snapped(index, { x: 29.5, y: 5.2 }, 1)).toEqual({ at: { x: 30, y: 5 }, kind: 'center' })
    expect(snapped(index, { x: 30.2, y: 20 }, 1)).toEqual({ at: { x: 30, y: 20 }, kind: 'level' })
    expect(snapped(index, { x: 18, y: 20 }, 1)).toEqual({ at: { x: 18, y: 20 }, kind: 'free' })
  })
  it('makes its steps square to its first leg, whatever its direction', () => {
    const a = { x: 0, y: 0 }
    const b = { x: 6, y: 8 }
    const p = squared([a, b], { x: 16, y: 3 })
    expect((p.x - b.x) * 6 + (p.y - b.y) * 8).toBeCloseTo(0)
  })
})

describe('directions', () => {
  it('are upright and square, and a quarter turn four times is none', () => {
    for (const { orientation: o } of DIRECTIONS) {
      expect(dot(o.right, o.up)).toBeCloseTo(0)
      expect(Math.hypot(...o.right)).toBeCloseTo(1)
      for (const way of ['clockwise', 'left', 'up'] as const) {
        let t = o
        for (let i = 0; i < 4; i++) t = quarter(t, way)
        t.right.forEach((v, i) => expect(v).toBeCloseTo(o.right[i]))
      }
    }
  })
  it('of a picked face look straight at it', () => {
    expect(towardOf(seenFrom([0, 0, -1], [0, 1, 0]))).toEqual([0, 0, -1])
    const slanted = [0.6, 0, 0.8]
    towardOf(seenFrom(slanted)).forEach((v, i) => expect(v).toBeCloseTo(slanted[i]))
  })
})

it('a place on a curve is a fraction of its length', () => {
  expect(fractionOn(curve('line', [0, 0, 10, 0]), { x: 2.5, y: 1 })).toBeCloseTo(0.25)
})
