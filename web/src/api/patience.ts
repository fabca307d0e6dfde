// Requests that wait for a server that is away for a moment: what was asked or typed goes on when it is back.
import { ref } from 'vue'

/** Whether a request waits for the server right now. */
export const away = ref(false)

const FIRST = 300
const LONGEST = 2000
const GIVE_UP = 60_000
/** Steps that carry the version they were made on: made twice, the second one is refused. */
const REPEATABLE = /\/(commands|undo|redo|propose)$/

let waiting = 0

const later = (milliseconds: number) => new Promise<void>((done) => setTimeout(done, milliseconds))

/** As fetch, but a server that does not answer or is not ready is asked again for up to a minute. */
export async function patient(request: Request, send: (request: Request) => Promise<Response> = fetch): Promise<Response> {
  const again = request.method === 'GET' || REPEATABLE.test(new URL(request.url).pathname)
  const until = Date.now() + GIVE_UP
  let rest = FIRST
  let counted = false
  try {
    for (;;) {
      const answer = await send(request.clone()).catch((error: unknown) => {
        if (!again || Date.now() > until || request.signal.aborted) throw error
        return null
      })
      if (answer && (!again || ![502, 503, 504].includes(answer.status) || Date.now() > until)) return answer
      if (!counted) {
        counted = true
        waiting += 1
        away.value = true
      }
      await later(rest)
      rest = Math.min(rest * 1.6, LONGEST)
    }
  } finally {
    if (counted) {
      waiting -= 1
      away.value = waiting > 0
    }
  }
}
