import { expect, it } from 'vitest'
import { latest } from './latest'

it('asks once more for all that came while an answer was awaited', async () => {
  const answers: (() => void)[] = []
  let asked = 0
  const q = latest(() => {
    asked++
    return new Promise<void>((done) => answers.push(done))
  })
  void q.run()
  void q.run()
  const end = q.run()
  expect(asked).toBe(1)
  answers[0]()
  await Promise.resolve()
  await Promise.resolve()
  expect(asked).toBe(2)
  answers[1]()
  await end
  expect(asked).toBe(2)
  await q.settled()
  void q.run()
  expect(asked).toBe(3)
  answers[2]()
})

it('goes on after a question that failed', async () => {
  let fail = true
  const q = latest(() => (fail ? Promise.reject(new Error('no')) : Promise.resolve()))
  await expect(q.run()).rejects.toThrow('no')
  fail = false
  await q.run()
})
