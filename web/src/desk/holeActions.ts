// What is done with all holes of a view at once.
import { api, data, type Annotation } from '@/api/client'
import { useDesk } from './store'

/** Callouts for every kind of hole that the chosen views look into (all of the sheet, if none is chosen) and the drawing says nothing of yet. */
export async function callOutHoles() {
  const desk = useDesk()
  const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : []))
  const views = (desk.sheet?.views ?? []).filter((v) => (chosen.length ? chosen.includes(v.id) : v.kind !== 'pictorial' && v.kind !== 'detail'))
  let placed = 0
  let left = 0
  try {
    for (const v of views) {
      // one view after another: what one calls out the next need not
      const found = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/callouts', { params: { path: { drawing_id: desk.drawing!.id, view_id: v.id } } }))
      left += found.left_over
      if (found.callouts.length && (await desk.edit({ command: 'place', annotations: found.callouts as Annotation[], sheet: '', known: 'keep' }))) placed += found.callouts.length
    }
    const lacking = left ? `; for ${left} there is no room` : ''
    desk.said = placed || left ? `${placed} callouts placed${lacking}` : 'Every hole that is looked into is called out or sized already'
  } catch (error) {
    desk.fail(error)
  }
}
