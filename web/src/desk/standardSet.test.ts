import { expect, it } from 'vitest'
import { SET_VIEWS, setPlace, usualSet } from './standardSet'

// ISO 5456-2, ASME Y14.3: third angle has the top above and the right side at the right, first angle the other way round
it('stands the views where the projection method has them', () => {
  expect(usualSet('third').map((v) => setPlace(v, 'third'))).toEqual(['above', 'right', 'above-right'])
  expect(usualSet('first').map((v) => setPlace(v, 'first'))).toEqual(['below', 'right', 'below-right'])
  expect(setPlace('right side', 'first')).toBe('left')
  expect(setPlace('from above right', 'first')).toBe('below-left')
  for (const method of ['first', 'third'] as const) expect(new Set(SET_VIEWS.map((v) => setPlace(v, method))).size).toBe(SET_VIEWS.length)
})
