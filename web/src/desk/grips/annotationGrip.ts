// An annotation dragged: drawn by the core where it would be, or where it stands on the sheet by itself, moved as it is.
import { ref, shallowRef } from 'vue'
import { api, data, type Annotation, type Answer } from '@/api/client'
import { latest } from '../latest'
import type { XY } from '../places'
import { viewOf } from '../spots'
import { useDesk } from '../store'
import type { Grip, Held } from './grip'

export function useAnnotationGrip(under: (event: MouseEvent) => string, choose: (id: string, more: boolean) => void) {
  const desk = useDesk()
  const dragged = ref('')
  const preview = shallowRef<Answer | null>(null)
  /** How far one that stands on the sheet has come, sheet mm. */
  const moved = ref<{ id: string; x: number; y: number } | null>(null)

  const grip: Grip = ({ at, event, more }) => {
    const id = under(event)
    const a = id ? desk.annotation(id) : undefined
    if (!a) return null
    if (a.kind === 'underlay') {
      const was = desk.selected.length === 1 && desk.selected[0].kind === 'annotation' && desk.selected[0].id === id
      const v = desk.view(viewOf(a))
      choose(id, more)
      return was ? onSheet(a.id, a.position, at, v ? desk.scaleOf(v) : 1) : 'chosen'
    }
    choose(id, more)
    if (a.kind === 'added_line' || a.kind === 'insertion_arrow' || a.kind === 'characteristic') return inView(a, 'place', at)
    if ('place' in a) return inView(a, partUnder(a, at, event), at)
    if ('position' in a && !('attached' in a && a.attached)) return onSheet(a.id, a.position, at)
    return 'chosen'
  }

  /** What of it was taken: a size's number, the end of a balloon's leader, or all of it. */
  function partUnder(a: Annotation, at: XY, event: PointerEvent): string {
    if (['texture', 'weld', 'datum_feature', 'control_frame'].includes(a.kind)) return event.altKey ? 'tip' : 'place'
    if ('tips' in a && a.tips?.length) return (event.target as Element).tagName === 'text' ? 'place' : 'tip'
    if (a.kind !== 'balloon') return (event.target as Element).tagName === 'text' ? 'number' : 'place'
    const v = desk.view(viewOf(a))!
    const k = desk.scaleOf(v)
    const r = 0.95 * desk.document!.profile.label_height!
    const far = Math.hypot(v.position.x + a.place.model.x * k + a.place.paper.x - at.x, v.position.y + a.place.model.y * k + a.place.paper.y - at.y)
    return far < r * (2 * (a.stacked?.length ?? 0) + 1.15) ? 'place' : 'tip'
  }

  function inView(a: Annotation, part: string, grabbed: XY): Held {
    let pointer: XY | null = null
    const asking = latest(async () => {
      if (!pointer || dragged.value !== a.id) return
      try {
        const body = { id: a.id, grip: part, pointer, grabbed }
        const answer = await data(api.POST('/api/drawings/{drawing_id}/drag', { params: { path: { drawing_id: desk.drawing!.id } }, body }))
        if (dragged.value === a.id) preview.value = answer as Answer
      } catch (error) {
        desk.fail(error)
      }
    })
    dragged.value = a.id
    const end = () => {
      dragged.value = ''
      preview.value = null
    }
    return {
      move: (at) => {
        pointer = at
        void asking.run()
      },
      // it stays where the pointer was last, also if that has not been drawn yet
      drop: async () => {
        await asking.settled()
        const now = preview.value?.annotations[0]
        const isCarried = now && viewOf(now) !== viewOf(a)
        if (now && (isCarried || ['balloon', 'note', 'texture', 'weld', 'added_line', 'insertion_arrow', 'datum_feature', 'control_frame', 'characteristic'].includes(now.kind))) await desk.edit({ command: 'place', annotations: [now], sheet: '', known: 'replace' })
        else if (now && 'place' in now) await desk.edit({ command: 'move', moves: [{ id: a.id, place: now.place, ...('shift' in now ? { shift: now.shift } : {}) }], with_run: true })
        end()
      },
      cancel: end,
    }
  }

  /** scale: of the view that its position is in. */
  function onSheet(id: string, position: XY, from: XY, scale = 1): Held {
    moved.value = { id, x: 0, y: 0 }
    return {
      move: (at) => (moved.value = { id, x: at.x - from.x, y: at.y - from.y }),
      drop: async () => {
        const { x, y } = moved.value!
        if (Math.hypot(x, y) > 0.5) await desk.edit({ command: 'move', moves: [{ id, position: { x: position.x + x / scale, y: position.y + y / scale } }], with_run: false })
        moved.value = null
      },
      cancel: () => (moved.value = null),
    }
  }
  return { grip, dragged, preview, moved }
}
