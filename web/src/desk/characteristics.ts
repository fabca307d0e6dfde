// Numbers for all that is to be inspected, each where it stands clear.
import { api, data } from '@/api/client'
import { useDesk } from './store'

/** Number what has no number yet, in reading order; anew: all of it again, from 1. */
export async function numberCharacteristics(anew = false) {
  const desk = useDesk()
  await desk.editsDone()
  try {
    const { offsets } = await data(api.GET('/api/drawings/{drawing_id}/inspection/places', { params: { path: { drawing_id: desk.drawing!.id } } }))
    await desk.edit({ command: 'number_characteristics', anew, offsets })
  } catch (error) {
    desk.fail(error)
  }
}
