// What is done with sizes that are there: arrows flipped, views tidied, the model's own brought.
import { api, data } from '@/api/client'
import { isSize, type Size } from './sizes'
import { viewOf } from './spots'
import { useDesk } from './store'

const NEXT = { fit: 'out', out: 'in', in: 'fit' } as const

/** The arrows of the selected sizes: by the room there is, outside, inside. */
export async function flipArrows() {
  const desk = useDesk()
  const sizes = desk.selected.flatMap((s) => (s.kind === 'annotation' && isSize(desk.annotation(s.id)) ? [desk.annotation(s.id) as Size] : []))
  if (sizes.length) await desk.edit({ command: 'change', ids: sizes.map((s) => s.id), values: { arrows: NEXT[sizes[0].arrows] } })
}

/** Rows and leaders of the selected views, or of all, put in order; each view in one step. */
export async function tidyViews() {
  const desk = useDesk()
  const chosen = desk.selected.flatMap((s) => {
    const a = s.kind === 'annotation' ? desk.annotation(s.id) : undefined
    return s.kind === 'view' ? [s.id] : a ? [viewOf(a)] : []
  })
  const views = [...new Set(chosen.length ? chosen : (desk.sheet?.views ?? []).map((v) => v.id))].filter((v) => v)
  let moved = 0
  try {
    for (const id of views) {
      const answer = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/tidy', { params: { path: { drawing_id: desk.drawing!.id, view_id: id } } }))
      if (answer.moves.length && (await desk.edit({ command: 'move', moves: answer.moves, with_run: false }))) moved += answer.moves.length
    }
    if (!moved) desk.said = 'There are no sizes to tidy'
  } catch (error) {
    desk.fail(error)
  }
}
