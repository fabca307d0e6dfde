// What the right button offers for the thing under the pointer.
import { VIEW_KINDS } from '@/words'
import type { View } from '@/api/client'
import { isOn, usePartsOfView } from './partsOfView'
import type { MenuItem } from './SheetMenu.vue'
import { isSize, type Size } from './sizes'
import { kindOnDesk } from './kinds'
import { useDesk } from './store'
import type { Spot } from './spots'
import { useTools } from './tools'

interface Under {
  annotation: string
  view: string | null
  spot: Spot | null
  /** Path of the part under the pointer in an assembly, else empty. */
  part: string
}

export function menuOf(under: Under, window: { fit: () => void; fitView: (id: string) => void }): { title: string; items: MenuItem[] } {
  const desk = useDesk()
  const tools = useTools()
  const { annotation, view, spot, part } = under
  if (annotation) {
    const title = desk.drawn?.annotations.find((a) => a.id === annotation)?.text || 'Center'
    const a = desk.annotation(annotation)
    const items: MenuItem[] = isSize(a) ? sizeItems(annotation) : (kindOnDesk(a?.kind ?? '')?.menu?.(annotation) ?? [])
    return { title, items: [...items, { name: 'Remove', run: () => void desk.edit({ command: 'remove', ids: [annotation] }) }] }
  }
  const v = view ? desk.view(view) : undefined
  if (!view || !v) {
    return { title: 'Sheet', items: [{ name: 'Place a main view', run: () => tools.start('main') }, { name: 'Fit the sheet', run: window.fit }] }
  }
  const items: MenuItem[] = [...(spot ? edgeItems(spot) : []), ...(part ? partItems(v, part) : [])]
  if (v.kind !== 'pictorial' && v.kind !== 'detail')
    items.push({
      name: 'Project from it',
      run: () => {
        desk.selected = [{ kind: 'view', id: view }]
        tools.start('projected')
      },
    })
  for (const s of desk.document?.sheets ?? [])
    if (s.id !== desk.sheet?.id) items.push({ name: `Move to ${s.name || 'the other sheet'}`, run: () => void desk.edit({ command: 'move_to_sheet', view, sheet: s.id }) })
  items.push({ name: v.hidden_lines ? 'Leave out hidden lines' : 'Show hidden lines', run: () => void desk.edit({ command: 'change_view', view, hidden_lines: !v.hidden_lines }) })
  items.push({ name: 'Fit the window to it', run: () => window.fitView(view) })
  items.push({ name: 'Remove', run: () => void desk.edit({ command: 'remove', ids: [view] }) })
  return { title: VIEW_KINDS[v.kind], items }
}

/** What can be done with one part of an assembly in a view. */
function partItems(v: View, path: string): MenuItem[] {
  const desk = useDesk()
  const parts = usePartsOfView()
  const all = desk.hitOf(v.id)?.geometry.instances ?? []
  if (all.length < 2) return []
  const name = path.slice(path.lastIndexOf('/') + 1)
  return [
    { name: `Leave out ${name}`, run: () => void parts.set(v.id, 'shown', [path], false) },
    { name: `Show only ${name}`, run: () => void parts.only(v.id, [path], all) },
    ...(v.without.length ? [{ name: 'Show all parts', run: () => void parts.all(v.id) }] : []),
    ...(v.shading !== 'lines' ? [{ name: isOn(v, 'through', path) ? `Make ${name} solid` : `See through ${name}`, run: () => void parts.set(v.id, 'through', [path], !isOn(v, 'through', path)) }] : []),
    ...(v.hidden_lines ? [{ name: `${isOn(v, 'hidden', path) ? 'Leave out' : 'Show'} its hidden lines`, run: () => void parts.set(v.id, 'hidden', [path], !isOn(v, 'hidden', path)) }] : []),
  ]
}

/** What can be done with one size. */
function sizeItems(id: string): MenuItem[] {
  const desk = useDesk()
  const tools = useTools()
  const size = desk.annotation(id) as Size
  const mark = (field: 'reference' | 'basic' | 'inspection', on: string, off: string): MenuItem => ({
    name: size.wording[field] ? off : on,
    run: () => void desk.edit({ command: 'change', ids: [id], values: { wording: { [field]: !size.wording[field] } } }),
  })
  const next = { fit: 'out', out: 'in', in: 'fit' } as const
  return [
    mark('reference', 'For reference', 'Not for reference'),
    mark('basic', 'Basic size', 'Not basic'),
    mark('inspection', 'Mark for inspection', 'No inspection mark'),
    { name: 'Flip its arrows', run: () => void desk.edit({ command: 'change', ids: [id], values: { arrows: next[size.arrows] } }) },
    {
      name: 'Copy its style to others',
      run: () => {
        desk.selected = [{ kind: 'annotation', id }]
        tools.start('brush')
      },
    },
  ]
}

/** What can be done with one edge. */
function edgeItems(spot: Spot): MenuItem[] {
  const desk = useDesk()
  const tools = useTools()
  const g = desk.hitOf(spot.view)?.geometry
  const c = g?.curves[spot.curve]
  const path = g?.instances[c?.instance ?? 0]
  if (!c || !path || c.role === 'added' || c.role === 'underlay') return []
  const edge = { instance: path, source: c.source, role: c.role }
  const change = (line: 'none' | 'hidden' | 'dimension' | 'center', restore = false) => void desk.edit({ command: 'change_line', view: spot.view, change: { ...edge, line }, restore })
  const changed = desk.view(spot.view)?.lines.some((l) => l.source === c.source && l.instance === path && l.role === c.role)
  return [
    { name: 'Hide this edge', run: () => change('none') },
    { name: 'Hide a part of an edge', run: () => tools.start('part') },
    { name: 'Draw it as a hidden line', run: () => change('hidden') },
    { name: 'Draw it thin', run: () => change('dimension') },
    ...(changed ? [{ name: 'Draw it as before', run: () => change('none', true) }] : []),
  ]
}
