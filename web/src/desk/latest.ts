// One question at a time: while an answer is awaited, only the newest wish is remembered.

export interface Latest {
  /** Ask, now or after the answer under way; done when nothing newer is wanted. */
  run: () => Promise<void>
  /** Done when the questions under way are answered. */
  settled: () => Promise<void>
}

export function latest(ask: () => Promise<void>): Latest {
  let running: Promise<void> | null = null
  let again = false
  function run(): Promise<void> {
    again = true
    running ??= (async () => {
      try {
        while (again) {
          again = false
          await ask()
        }
      } finally {
        running = null
      }
    })()
    return running
  }
  return { run, settled: () => running ?? Promise.resolve() }
}
