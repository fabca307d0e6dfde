// A detail's outline or a section's cutting line, dragged on its parent.
import { ref } from 'vue'
import type { Command } from '@/api/client'
import type { XY } from './places'
import { useDesk } from './store'
import { useViewTools } from './viewTools'

export function useMarkDrag() {
  const desk = useDesk()
  const views = useViewTools()
  /** from: where the drag began, in the parent's mm. */
  const markDrag = ref<{ id: string; host: string; from: XY; resize: boolean; command: Command | null } | null>(null)

  /** Take hold of the mark of a view at a place; a circle by its line (within reach, sheet mm), or with Alt, to resize it. Whether it can be. */
  function grabMark(id: string, p: XY, reach: number, alt: boolean): boolean {
    const taken = desk.document?.sheets.flatMap((s) => s.views).find((v) => v.id === id)
    const host = taken?.parent ? desk.view(taken.parent) : undefined
    if (!taken || !host || !(taken.detail || taken.kind === 'section')) return false
    const from = views.inView(host, p)
    const d = taken.detail
    const off = d && d.shape === 'circle' ? Math.abs(Math.hypot(from.x - d.center.x, from.y - d.center.y) - d.radius) : Infinity
    markDrag.value = { id, host: host.id, from, resize: alt || off * desk.scaleOf(host) < reach, command: null }
    return true
  }
  /** The mark under the pointer, with the view it makes: dragged by its line a circle is resized, by its letter it is moved. */
  function dragMark(p: XY) {
    const drag = markDrag.value!
    const host = desk.view(drag.host)
    const v = desk.document?.sheets.flatMap((s) => s.views).find((o) => o.id === drag.id)
    if (!host || !v) return
    const at = views.inView(host, p)
    const by = { x: at.x - drag.from.x, y: at.y - drag.from.y }
    const moved = (q: XY) => ({ x: q.x + by.x, y: q.y + by.y })
    const d = v.detail
    if (d && drag.resize && d.shape === 'circle') drag.command = { command: 'change_detail', view: v.id, outline: { ...d, radius: Math.max(Math.hypot(at.x - d.center.x, at.y - d.center.y), 0.5) } }
    else if (d) drag.command = { command: 'change_detail', view: v.id, outline: { ...d, center: moved(d.center), points: d.points.map(moved) } }
    else if (v.section) drag.command = { command: 'change_section', view: v.id, points: v.section.line.points.map(moved) }
    views.show(drag.command)
  }
  async function dropMark() {
    const { command } = markDrag.value!
    markDrag.value = null
    if (command) await desk.edit(command)
    views.show(null)
  }
  return { markDrag, grabMark, dragMark, dropMark }
}
