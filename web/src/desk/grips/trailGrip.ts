// Trail lines of exploded views: chosen, and dragged aside.
import { computed, ref } from 'vue'
import type { XY } from '../places'
import { useDesk } from '../store'
import type { Grip } from './grip'

interface Trail {
  view: string
  parts: string[]
}

export function useTrailGrip(choose: (trail: Trail, more: boolean) => void) {
  const desk = useDesk()
  /** The one in hand, and how far it has come, sheet mm. */
  const hand = ref<(Trail & { by: XY }) | null>(null)
  const same = (a: Trail, b: Trail) => a.view === b.view && a.parts.join() === b.parts.join()

  /** The trail within reach (sheet mm) of a place. */
  function trailAt(p: XY, reach: number): Trail | null {
    for (const v of desk.sheet?.views ?? []) {
      if (!v.exploded) continue
      const q = desk.inView(v, p)
      const parts = desk.hitOf(v.id)?.trailAt(q.x, q.y, reach / desk.scaleOf(v), v.trails_off ?? [])
      if (parts) return { view: v.id, parts }
    }
    return null
  }

  const grip: Grip = ({ at, reach, more }) => {
    const trail = trailAt(at, reach)
    if (!trail) return null
    choose(trail, more)
    hand.value = { ...trail, by: { x: 0, y: 0 } }
    return {
      move: (p) => (hand.value = { ...trail, by: { x: p.x - at.x, y: p.y - at.y } }),
      drop: async () => {
        await shift(trail, hand.value!.by)
        hand.value = null
      },
      cancel: () => (hand.value = null),
    }
  }
  /** It keeps its distance in the view's own mm. */
  async function shift({ view, parts }: Trail, by: XY) {
    const v = desk.view(view)
    if (!v || Math.hypot(by.x, by.y) <= 0.5) return
    const path = parts.find((p) => v.trail_shifts?.[p]) ?? parts[0]
    const was = v.trail_shifts?.[path] ?? { x: 0, y: 0 }
    const k = desk.scaleOf(v)
    await desk.edit({ command: 'change_view', view, trail_shifts: { ...v.trail_shifts, [path]: { x: was.x + by.x / k, y: was.y + by.y / k } } })
  }
  /** Those chosen, as paths about their views, where they are or are dragged to. */
  const chosen = computed(() =>
    desk.selected.flatMap((s) => {
      const v = s.kind === 'trail' ? desk.view(s.view) : undefined
      if (s.kind !== 'trail' || !v) return []
      const k = desk.scaleOf(v)
      const by = hand.value && same(s, hand.value) ? hand.value.by : { x: 0, y: 0 }
      const mine = (desk.hitOf(s.view)?.geometry.trails ?? []).filter((t) => t.instances.join() === s.parts.join())
      return [{ id: s.view, path: mine.map((t) => `M${t.data[0] * k + by.x} ${-t.data[1] * k - by.y}L${t.data[2] * k + by.x} ${-t.data[3] * k - by.y}`).join('') }]
    }),
  )
  return { grip, chosen }
}
