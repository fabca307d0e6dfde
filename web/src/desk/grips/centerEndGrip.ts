// The ends of the selected center: where they are, and dragging one along its line.
import { computed, ref } from 'vue'
import type { XY } from '../places'
import { useDesk } from '../store'
import type { Held } from './grip'

export function useCenterEnds() {
  const desk = useDesk()
  const taken = ref<{ id: string; end: number; by: number } | null>(null)
  const chosen = computed(() => (desk.selected.length === 1 && desk.selected[0].kind === 'annotation' ? desk.selected[0].id : ''))
  /** The draggable ends of the one center that is selected, and where the pointer has taken one. */
  const ends = computed(() => {
    const ink = desk.drawn?.annotations.find((a) => a.id === chosen.value)
    return (ink?.handles ?? []).map((h) => {
      const by = taken.value?.id === chosen.value && taken.value.end === h.end ? taken.value.by : null
      return { ...h, view: ink!.view, to: by === null ? null : { x: h.x + h.out_x * by, y: h.y + h.out_y * by } }
    })
  })

  /** Take hold of an end; null where none is shown. */
  function grab(end: number): Held | null {
    const id = chosen.value
    const h = ends.value.find((e) => e.end === end)
    if (!id || !h) return null
    taken.value = { id, end, by: 0 }
    return {
      move: (p: XY) => {
        const v = desk.view(h.view)
        if (v) taken.value = { id, end, by: (p.x - v.position.x - h.x) * h.out_x + (p.y - v.position.y - h.y) * h.out_y }
      },
      drop: async () => {
        const by = taken.value?.by ?? 0
        if (Math.abs(by) > 0.1) await desk.edit({ command: 'change', ids: [id], values: { end, past: Math.round((h.past + by) * 10) / 10 } })
        taken.value = null
      },
      cancel: () => (taken.value = null),
    }
  }
  return { ends, grab }
}
