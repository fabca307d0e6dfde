import { expect, it } from 'vitest'
import { patched } from './patch'

const before = { name: 'x', sheets: [{ id: 'a', annotations: [{ id: '1', v: 1 }, { id: '2', v: 2 }] }, { id: 'b', annotations: [] }] }

it('changes what the patch names and keeps all else as the same objects', () => {
  const after = patched(before, [
    { op: 'replace', path: '/sheets/0/annotations/1', value: { id: '2', v: 5 } },
    { op: 'add', path: '/sheets/0/annotations/2', value: { id: '3', v: 3 } },
  ])
  expect(after.sheets[0].annotations.map((a) => a.v)).toEqual([1, 5, 3])
  expect(after.sheets[0].annotations[0]).toBe(before.sheets[0].annotations[0])
  expect(after.sheets[1]).toBe(before.sheets[1])
  expect(before.sheets[0].annotations.length).toBe(2)
})

it('moves and removes sheets', () => {
  const after = patched(before, [{ op: 'move', from: '/sheets/1', path: '/sheets/0' }, { op: 'remove', path: '/sheets/1' }])
  expect(after.sheets.map((s) => s.id)).toEqual(['b'])
})
