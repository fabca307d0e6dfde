// Centers of whole views at once.
import { ref } from 'vue'
import { api, data, type Annotation } from '@/api/client'
import { useDesk } from './store'

/** Smallest diameter, model mm, that "Center everything" marks. */
export const leastCentered = ref(0)

/** Everything that the selected views lack (all of the sheet, if none is selected), each view's in one step. */
export async function centerEverything() {
  const desk = useDesk()
  const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : []))
  const views = (desk.sheet?.views ?? []).filter((v) => (chosen.length ? chosen.includes(v.id) : v.kind !== 'pictorial' && v.kind !== 'detail'))
  try {
    const query = { least: leastCentered.value }
    const found = await Promise.all(views.map((v) => data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/lacking', { params: { path: { drawing_id: desk.drawing!.id, view_id: v.id }, query } }))))
    const centers = found.flatMap((f) => f.centers) as Annotation[]
    if (centers.length) await desk.edit({ command: 'place', annotations: centers, sheet: '', known: 'keep' })
    else desk.said = 'Every circle and axis has its center already'
  } catch (error) {
    desk.fail(error)
  }
}
