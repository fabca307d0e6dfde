import { describe, expect, it } from 'vitest'
import { fitted, toSheet, zoomed } from './camera'
import { parsed, written } from './scales'
import { massText, when } from '@/words'

describe('the camera', () => {
  it('fits the sheet in the middle of the room', () => {
    const c = fitted(420, 297, 784, 720)
    expect(c.left * 2 + 420 * c.zoom).toBeCloseTo(784)
    expect(c.top * 2 + 297 * c.zoom).toBeCloseTo(720)
  })
  it('keeps the point under the pointer while zooming', () => {
    const c = fitted(420, 297, 784, 720)
    const before = toSheet(c, 300, 200, 297)
    const after = toSheet(zoomed(c, 300, 200, 1.7), 300, 200, 297)
    expect(after.x).toBeCloseTo(before.x)
    expect(after.y).toBeCloseTo(before.y)
  })
})

describe('words', () => {
  it('read and write scales', () => {
    expect(parsed(' 1 : 5 ')).toEqual({ drawn: 1, true: 5 })
    expect(written({ drawn: 2, true: 1 })).toBe('2:1')
    for (const bad of ['', '1', '0:1', '1:0', 'a:b', '1:2:3']) expect(parsed(bad)).toBeNull()
  })
  it('say when and how heavy', () => {
    const now = new Date('2026-11-23T12:00:00')
    expect(when('2026-11-23T08:00:00', now)).toBe('today')
    expect(when('2026-11-22T23:00:00', now)).toBe('yesterday')
    expect(when('2026-11-03T08:00:00', now)).toBe('Nov 3')
    expect(massText(0.1234)).toBe('123 g')
    expect(massText(2.30544)).toBe('2.305 kg')
    expect(massText(null)).toContain('material is missing')
  })
})
