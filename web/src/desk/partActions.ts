// What is done with all parts of a view at once: numbering them, in order, and the sheet's parts list.
import { api, data, type Annotation } from '@/api/client'
import { viewOf } from './spots'
import { useDesk } from './store'

const viewOfAnnotation = (id: string) => {
  const a = useDesk().annotation(id)
  return a ? viewOf(a) : ''
}

/** The views that are chosen, or on which what is chosen stands. */
const chosenViews = () =>
  useDesk().selected.flatMap((s) => (s.kind === 'view' ? [s.id] : s.kind === 'annotation' ? [viewOfAnnotation(s.id)] : [])).filter(Boolean)

/** Balloons for everything the chosen views show, or the only view of the sheet. */
export async function numberAll() {
  const desk = useDesk()
  await desk.editsDone()
  const chosen = chosenViews()
  const all = (desk.sheet?.views ?? []).filter((v) => v.kind !== 'detail')
  const views = [...new Set(chosen.length ? chosen : all.length === 1 ? [all[0].id] : [])]
  if (!views.length) {
    desk.said = all.length ? 'Choose the view whose parts are to be numbered' : 'There is no view to number the parts of'
    return
  }
  try {
    const said: string[] = []
    for (const id of views) {
      const answer = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/balloons', { params: { path: { drawing_id: desk.drawing!.id, view_id: id } } }))
      if (!answer.balloons.length) said.push('No part is seen here')
      else if (await desk.edit({ command: 'place', annotations: answer.balloons as Annotation[], sheet: '', known: 'replace' })) said.push(`${answer.balloons.length} balloons placed`)
      if (answer.unseen.length) said.push(`not seen here: ${answer.unseen.map((u) => `${u.item} ${u.name}${u.views?.length ? ` (in ${u.views.join(', ')})` : ''}`).join(', ')}`)
    }
    desk.said = said.join('; ')
  } catch (error) {
    desk.fail(error)
  }
}

/** Item numbers in the order in which the balloons of the chosen view stand, clockwise from the upper left. */
export async function numberClockwise() {
  const desk = useDesk()
  await desk.editsDone()
  const chosen = chosenViews()
  const ballooned = [...new Set((desk.sheet?.annotations ?? []).filter((a) => a.kind === 'balloon').map(viewOf))]
  const view = chosen[0] ?? (ballooned.length === 1 ? ballooned[0] : '')
  if (!view) {
    desk.said = ballooned.length ? 'Choose the view whose balloons are to be read in order' : 'There are no balloons on this sheet yet'
    return
  }
  try {
    const { keys } = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/reading-order', { params: { path: { drawing_id: desk.drawing!.id, view_id: view } } }))
    await desk.edit({ command: 'number_in_order', keys })
  } catch (error) {
    desk.fail(error)
  }
}

/** The sheet's parts list, placed on its title block where there is none. */
export async function partsList() {
  const desk = useDesk()
  await desk.editsDone()
  const there = desk.sheet?.annotations.find((a) => a.kind === 'parts_list')
  if (there) {
    desk.selected = [{ kind: 'annotation', id: there.id }]
    return
  }
  const id = crypto.randomUUID().replaceAll('-', '').slice(0, 12)
  const made = { kind: 'parts_list', id, anchor: { on: 'sheet' } } as Annotation
  if (await desk.edit({ command: 'place', annotations: [made], sheet: desk.sheet!.id, known: 'refuse' })) desk.selected = [{ kind: 'annotation', id }]
}
