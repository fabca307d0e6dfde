// The ends of the selected center: where they are, and dragging one along its line.
import { computed, ref } from 'vue'
import type { XY } from './places'
import { useDesk } from './store'

export function useCenterEnds() {
  const desk = useDesk()
  const endDrag = ref<{ id: string; end: number; by: number } | null>(null)
  const chosen = computed(() => (desk.selected.length === 1 && desk.selected[0].kind === 'annotation' ? desk.selected[0].id : ''))
  /** The draggable ends of the one center that is selected, and where the pointer has taken one. */
  const ends = computed(() => {
    const ink = desk.drawn?.annotations.find((a) => a.id === chosen.value)
    return (ink?.handles ?? []).map((h) => {
      const by = endDrag.value?.id === chosen.value && endDrag.value.end === h.end ? endDrag.value.by : null
      return { ...h, view: ink!.view, to: by === null ? null : { x: h.x + h.out_x * by, y: h.y + h.out_y * by } }
    })
  })

  /** Take hold of an end; whether there is one. */
  function grabEnd(end: number): boolean {
    if (chosen.value) endDrag.value = { id: chosen.value, end, by: 0 }
    return !!chosen.value
  }
  function dragEnd(p: XY) {
    const h = ends.value.find((e) => e.end === endDrag.value?.end)
    const v = h && desk.view(h.view)
    if (h && v) endDrag.value = { ...endDrag.value!, by: (p.x - v.position.x - h.x) * h.out_x + (p.y - v.position.y - h.y) * h.out_y }
  }
  async function dropEnd() {
    const { id, end, by } = endDrag.value!
    const h = ends.value.find((e) => e.end === end)
    if (h && Math.abs(by) > 0.1) await desk.edit({ command: 'change_center', id, end, past: Math.round((h.past + by) * 10) / 10 })
    endDrag.value = null
  }
  return { ends, endDrag, grabEnd, dragEnd, dropEnd }
}
