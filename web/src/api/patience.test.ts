import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { away, patient } from './patience'

const ok = () => Promise.resolve(new Response('{}', { status: 200 }))
const notReady = () => Promise.resolve(new Response('{}', { status: 503 }))
const gone = () => Promise.reject(new TypeError('network'))

function asked(method: string, path: string, answers: (() => Promise<Response>)[]) {
  const send = vi.fn(() => answers[Math.min(send.mock.calls.length - 1, answers.length - 1)]())
  const body = method === 'GET' ? undefined : '{"version":3}'
  return { send, answer: patient(new Request(`http://here${path}`, { method, body }), send) }
}

describe('requests while the server is away', () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => vi.useRealTimers())

  it('are made again until there is an answer, and say so meanwhile', async () => {
    const { send, answer } = asked('GET', '/api/drawings', [gone, notReady, ok])
    await vi.advanceTimersByTimeAsync(10)
    expect(away.value).toBe(true)
    await vi.advanceTimersByTimeAsync(3000)
    expect((await answer).status).toBe(200)
    expect(send).toHaveBeenCalledTimes(3)
    expect(away.value).toBe(false)
  })

  it('send an edit again with what was typed, since it carries its version', async () => {
    const { send, answer } = asked('POST', '/api/drawings/1/commands', [gone, ok])
    await vi.advanceTimersByTimeAsync(2000)
    expect((await answer).status).toBe(200)
    const [first, second] = send.mock.calls as unknown as [Request][]
    expect(second[0].method).toBe('POST')
    expect(await second[0].text()).toBe('{"version":3}')
    expect(first).not.toBe(second)
  })

  it('are not made twice where that would make two things', async () => {
    const { send, answer } = asked('POST', '/api/drawings', [notReady, ok])
    expect((await answer).status).toBe(503)
    expect(send).toHaveBeenCalledTimes(1)
  })

  it('end after a minute with the error', async () => {
    const { answer } = asked('GET', '/api/me', [gone])
    const said = expect(answer).rejects.toThrow('network')
    await vi.advanceTimersByTimeAsync(70_000)
    await said
    expect(away.value).toBe(false)
  })
})
