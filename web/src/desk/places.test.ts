import { describe, expect, it } from 'vitest'
import type { Sheet } from '@/api/client'
import { aligned, family, moved, relationOf, STEPS } from './places'

const view = (id: string, x: number, y: number, parent: string | null = null, relation: string | null = null) => ({ id, parent, relation, position: { x, y } })
const sheet = { views: [view('a', 100, 100), view('b', 200, 100, 'a', 'right'), view('c', 300, 100, 'b', 'right'), view('d', 9, 9)] } as unknown as Sheet

describe('places beside a view', () => {
  it('are the eight of the server', () => {
    for (const [name, [sx, sy]] of Object.entries(STEPS)) expect(relationOf(80 * sx, 90 * sy)).toBe(name)
  })
  it('keep the alignment with the parent', () => {
    expect(aligned({ x: 1, y: 2 }, 'left', { x: -50, y: 9 })).toEqual({ x: -50, y: 2 })
    expect(aligned({ x: 1, y: 2 }, 'below', { x: 7, y: -60 })).toEqual({ x: 1, y: -60 })
    expect(aligned({ x: 1, y: 2 }, 'above-right', { x: 7, y: 60 })).toEqual({ x: 7, y: 60 })
  })
  it('move with all that is projected from them, and nothing else', () => {
    expect(family(sheet, 'a')).toEqual(new Set(['a', 'b', 'c']))
    const to = moved(sheet, sheet.views[1], { x: 220, y: 140 })
    expect(to.get('b')).toEqual({ x: 220, y: 100 })
    expect(to.get('c')).toEqual({ x: 320, y: 100 })
    expect(to.has('a')).toBe(false)
  })
})
