// Trail lines of exploded views under the pointer: chosen, and dragged aside.
import { computed, ref } from 'vue'
import type { XY } from './places'
import { useDesk } from './store'

interface Trail {
  view: string
  parts: string[]
}

export function useTrails() {
  const desk = useDesk()
  /** The one in hand: where it was taken and how far it has come, sheet mm. */
  const hand = ref<(Trail & { from: XY; by: XY }) | null>(null)
  const same = (a: Trail, b: Trail) => a.view === b.view && a.parts.join() === b.parts.join()

  /** The trail within reach (sheet mm) of a place. */
  function at(p: XY, reach: number): Trail | null {
    for (const v of desk.sheet?.views ?? []) {
      if (!v.exploded) continue
      const q = desk.inView(v, p)
      const parts = desk.hitOf(v.id)?.trailAt(q.x, q.y, reach / desk.scaleOf(v), v.trails_off ?? [])
      if (parts) return { view: v.id, parts }
    }
    return null
  }
  function grab(trail: Trail, from: XY) {
    hand.value = { ...trail, from, by: { x: 0, y: 0 } }
  }
  function drag(p: XY): boolean {
    if (!hand.value) return false
    hand.value = { ...hand.value, by: { x: p.x - hand.value.from.x, y: p.y - hand.value.from.y } }
    return true
  }
  /** Let go, it keeps its distance in the view's own mm. */
  async function drop() {
    const { view, parts, by } = hand.value!
    const v = desk.view(view)
    if (v && Math.hypot(by.x, by.y) > 0.5) {
      const path = parts.find((p) => v.trail_shifts?.[p]) ?? parts[0]
      const was = v.trail_shifts?.[path] ?? { x: 0, y: 0 }
      const k = desk.scaleOf(v)
      await desk.edit({ command: 'change_view', view, trail_shifts: { ...v.trail_shifts, [path]: { x: was.x + by.x / k, y: was.y + by.y / k } } })
    }
    hand.value = null
  }
  function letGo() {
    hand.value = null
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
  return { at, grab, drag, drop, letGo, chosen, held: () => hand.value !== null }
}
