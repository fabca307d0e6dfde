// A view dragged with those aligned on it, on its sheet or onto another one of the strip.
import { ref } from 'vue'
import { moved, onGrid, type XY } from '../places'
import { useDesk } from '../store'
import type { Grip } from './grip'

export function useViewGrip(viewAt: (p: XY, margin: number) => string | null, choose: (view: string, more: boolean) => void) {
  const desk = useDesk()
  /** The view in hand, and where it and those aligned on it would be. */
  const dragged = ref<{ id: string; places: Map<string, XY> } | null>(null)

  const grip: Grip = ({ at, more }) => {
    const id = viewAt(at, 6)
    const v = id ? desk.view(id) : undefined
    if (!id || !v) return null
    choose(id, more)
    const grab = { x: at.x - v.position.x, y: at.y - v.position.y }
    dragged.value = { id, places: new Map() }
    return {
      move: (p) => {
        const now = desk.view(id)
        if (now && desk.sheet) dragged.value = { id, places: moved(desk.sheet, now, onGrid({ x: p.x - grab.x, y: p.y - grab.y }, desk.sheet.grid)) }
      },
      drop: async (_, over) => {
        const to = dragged.value?.places.get(id)
        const from = desk.view(id)?.position
        if (over && over !== desk.sheet?.id) {
          dragged.value = null
          await desk.edit({ command: 'move_to_sheet', view: id, sheet: over })
        } else if (to && from && Math.hypot(to.x - from.x, to.y - from.y) > 0.2) await desk.edit({ command: 'move_view', view: id, position: to })
        dragged.value = null
      },
      cancel: () => (dragged.value = null),
    }
  }
  return { grip, dragged }
}
