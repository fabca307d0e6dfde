// What the tools of the Views stage have in hand: which tool, what has been drawn so far, and how it is set.
import type { DetailOutline, Orientation, Relation } from '@/api/client'
import type { XY } from '../places'
import type { SetView } from '../standardSet'

export const VIEW_TOOLS = ['main', 'set', 'projected', 'section', 'auxiliary', 'detail', 'breakout', 'web', 'interrupt', 'hatch', 'part'] as const
export type ViewTool = (typeof VIEW_TOOLS)[number]

export interface ViewOptions {
  form: 'straight' | 'aligned' | 'half'
  removed: boolean
  onlyCut: boolean
  shape: DetailOutline['shape']
  onlyFace: boolean
  line: 'freehand' | 'zigzag' | 'round' | 'tube'
  pattern: string
  angle: number
  spacing: number
  /** Views of the standard set besides the front, once chosen; null takes the projection method's usual ones. */
  members: SetView[] | null
  jagged: boolean
}
export const viewOptions = (): ViewOptions => ({
  form: 'straight', removed: false, onlyCut: false, shape: 'circle', onlyFace: false, line: 'freehand', pattern: 'general', angle: 0, spacing: 1, members: null, jagged: false,
})

export interface ViewsInHand {
  tool: ViewTool | null
  pointer: XY
  /** Id of the view that is drawn in, or projected from; empty until one is picked. */
  parent: string
  /** Clicked so far, mm of the parent view's plane. */
  points: XY[]
  /** Whether the line or outline is done, so that placing follows. */
  drawn: boolean
  /** How deep to break out, mm toward the viewer; null until it is picked. */
  depth: number | null
  options: ViewOptions
  orientation: Orientation
  directionName: string
  pictorial: boolean
  /** On which side of its parent a projected view would stand. */
  relation: Relation
  /** The letter of what would be placed; empty where it has none. */
  letter: string
}

/** Tools that draw a line or an outline in a view. */
export const DRAWING: readonly string[] = ['section', 'auxiliary', 'detail', 'breakout', 'web', 'interrupt']

/** At how many points the line or outline is done by itself. */
export function pointsAtMost({ tool, options }: ViewsInHand): number {
  if (tool === 'section') return { straight: Infinity, aligned: 3, half: 2 }[options.form]
  if (tool === 'detail') return options.shape === 'free' ? Infinity : 2
  return tool === 'auxiliary' || tool === 'interrupt' ? 2 : Infinity
}

/** How many points the line or outline needs. */
export function pointsAtLeast({ tool, options }: ViewsInHand): number {
  if (tool === 'section') return options.form === 'aligned' ? 3 : 2
  if (tool === 'detail') return options.shape === 'free' ? 3 : 2
  if (tool === 'auxiliary') return 2
  return tool === 'breakout' || tool === 'web' ? 3 : Infinity
}
