import { createPinia, setActivePinia } from 'pinia'
import { expect, it } from 'vitest'
import { useActions } from './actions'

const nothing = () => {}

it('gives every key to one action, but for the one that goes to the next finding while checking', () => {
  setActivePinia(createPinia())
  const keys = useActions(nothing, nothing, nothing, nothing, nothing, nothing, nothing).flatMap((a) => (a.key ? [a.key] : []))
  expect(keys.length).toBeGreaterThan(50)
  expect(keys.filter((k, n) => keys.indexOf(k) !== n)).toEqual(['N'])
})
