// The views of a standard set, called as the trade does, and where each stands by the projection method (ISO 5456-2, ASME Y14.3).
import type { Schemas } from '@/api/client'

export const SET_VIEWS = ['top', 'right side', 'left side', 'bottom', 'rear', 'from above right', 'from above left', 'from below right', 'from below left'] as const
export type SetView = (typeof SET_VIEWS)[number]
type Projection = 'first' | 'third'
type Place = Schemas['PlaceStandardSet']['members'][number]

const THIRD: Record<SetView, Place> = {
  top: 'above', bottom: 'below', 'right side': 'right', 'left side': 'left', rear: 'rear',
  'from above right': 'above-right', 'from above left': 'above-left', 'from below right': 'below-right', 'from below left': 'below-left',
}
const ACROSS: Record<string, string> = { above: 'below', below: 'above', right: 'left', left: 'right', rear: 'rear' }

/** Where a view stands beside the front: in first angle on the other side than in third. */
export function setPlace(view: SetView, projection: Projection): Place {
  const third = THIRD[view]
  return projection === 'third' ? third : (third.split('-').map((p) => ACROSS[p]).join('-') as Place)
}

/** What is usual beside the front: the top, a side at the right, and a pictorial view from above. */
export const usualSet = (projection: Projection): SetView[] => (projection === 'third' ? ['top', 'right side', 'from above right'] : ['top', 'left side', 'from above left'])
