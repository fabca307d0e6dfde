// A detail's outline or a section's cutting line, dragged on its parent.
import type { Command } from '@/api/client'
import type { XY } from '../places'
import { useDesk } from '../store'
import { useViewTools } from '../viewTools'
import type { Grip } from './grip'

export function useMarkGrip(choose: (view: string, more: boolean) => void): Grip {
  const desk = useDesk()
  const views = useViewTools()

  return ({ at, reach, event, more }) => {
    const id = (event.target as Element | null)?.closest?.('[data-of]')?.getAttribute('data-of') ?? ''
    const find = () => desk.document?.sheets.flatMap((s) => s.views).find((v) => v.id === id)
    const v = find()
    const host = v?.parent ? desk.view(v.parent) : undefined
    if (!v || !host || !(v.detail || v.kind === 'section')) return null
    choose(id, more)
    const from = desk.inView(host, at)
    const circle = v.detail?.shape === 'circle' ? v.detail : null
    const onLine = circle && Math.abs(Math.hypot(from.x - circle.center.x, from.y - circle.center.y) - circle.radius) * desk.scaleOf(host) < reach
    const resize = event.altKey || !!onLine // by its line a circle is resized, by its letter it is moved
    let command: Command | null = null
    function wanted(to: XY): Command | null {
      const by = { x: to.x - from.x, y: to.y - from.y }
      const shifted = (q: XY) => ({ x: q.x + by.x, y: q.y + by.y })
      const d = v!.detail
      if (d && resize && d.shape === 'circle') return { command: 'change_detail', view: id, outline: { ...d, radius: Math.max(Math.hypot(to.x - d.center.x, to.y - d.center.y), 0.5) } }
      if (d) return { command: 'change_detail', view: id, outline: { ...d, center: shifted(d.center), points: d.points.map(shifted) } }
      return v!.section ? { command: 'change_section', view: id, points: v!.section.line.points.map(shifted) } : null
    }
    return {
      move: (p) => {
        command = wanted(desk.inView(host, p))
        views.show(command)
      },
      drop: async () => {
        if (command) await desk.edit(command)
        views.show(null)
      },
      cancel: () => views.show(null),
    }
  }
}
