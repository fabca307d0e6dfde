// A proposed size: clicked it is dropped, dragged it goes to another view.
import { useModelSizes } from '../modelSizes'
import type { XY } from '../places'
import type { Grip } from './grip'

/** How far the pointer goes, mm, before a click is a drag. */
const FAR = 2

export function useGhostGrip(viewAt: (p: XY, margin?: number) => string | null): Grip {
  const model = useModelSizes()
  return ({ at, event }) => {
    const id = model.open && model.lean ? ((event.target as Element).closest('[data-ghost]')?.getAttribute('data-ghost') ?? '') : ''
    if (!id) return null
    let last = at
    return {
      move: (to) => {
        last = to
        if (model.carried || Math.hypot(to.x - at.x, to.y - at.y) > FAR) model.carried = { id, x: to.x - at.x, y: to.y - at.y }
      },
      drop: async () => {
        const isDragged = model.carried !== null
        model.carried = null
        if (isDragged) await model.carry(id, viewAt(last, 20))
        else model.drop(id)
      },
      cancel: () => (model.carried = null),
    }
  }
}
