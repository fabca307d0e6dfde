// What can be taken hold of on the sheet. Of several the first that has something under the pointer is held until it is let go or Esc is pressed.
import { shallowRef } from 'vue'
import type { XY } from '../places'

export interface Grab {
  at: XY
  /** How near is near, sheet mm. */
  reach: number
  event: PointerEvent
  more: boolean
}
export interface Held {
  move: (at: XY) => void
  /** Let go at a place; over: the sheet of the strip under the pointer. */
  drop: (event: PointerEvent, over: string) => unknown
  /** Everything stays where it was. */
  cancel: () => void
}
/** Takes hold of what lies here and can be dragged; 'chosen' where it is only selected; null where there is nothing of its kind. */
export type Grip = (grab: Grab) => Held | 'chosen' | null

export function useGrips(grips: Grip[]) {
  const held = shallowRef<Held | null>(null)
  /** Whether something was taken or chosen, and whether it is held. */
  function grab(what: Grab): 'held' | 'chosen' | null {
    for (const grip of grips) {
      const found = grip(what)
      if (found === 'chosen') return found
      if (found) {
        held.value = found
        return 'held'
      }
    }
    return null
  }
  function hold(what: Held) {
    held.value = what
  }
  async function drop(event: PointerEvent) {
    const over = document.elementFromPoint(event.clientX, event.clientY)?.closest('[data-strip-sheet]')?.getAttribute('data-strip-sheet') ?? ''
    const mine = held.value
    held.value = null
    await mine?.drop(event, over)
  }
  function cancel(): boolean {
    const mine = held.value
    held.value = null
    mine?.cancel()
    return mine !== null
  }
  return { held, grab, hold, drop, cancel }
}
