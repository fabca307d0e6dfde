// What the tools of the Views stage say they want next.
import { PLACES } from '@/words'
import type { Prompt } from '../kinds/kind'
import type { ViewsInHand } from './state'

type Key = [string, string]
const LEAVE: Key = ['Esc', 'leave']
const FORMS = { straight: 'straight or stepped', aligned: 'aligned (bent)', half: 'half' }
const steps = (say: string, ...keys: Key[]): Prompt => ({ say, keys })

export function viewPrompt(now: ViewsInHand): Prompt {
  const { tool, points, drawn, options, parent, letter } = now
  const esc: Key = ['Esc', points.length || parent ? 'one step back' : 'leave']
  const close: Key[] = points.length > 2 ? [['Enter', 'close the outline']] : []
  const named = letter ? ` ${letter}-${letter}` : ''
  switch (tool) {
    case 'main':
      return steps(`Place the ${now.pictorial ? 'pictorial view' : 'main view'}, seen from ${now.directionName}.`, ['Space', 'another direction'], ['Q', 'quarter turn'], LEAVE)
    case 'set':
      return steps('Place the set; choose its views at the right.', ['Space', 'another front'], LEAVE)
    case 'projected':
      if (!parent) return steps('Pick the view to project from.', LEAVE)
      return steps(`Place the view ${PLACES[now.relation]}; move around the picked view for another.`, ['Esc', 'another view'])
    case 'section':
      if (drawn) return steps(`Place section${named}; the arrows follow its side.`, ['Esc', 'draw the line again'])
      if (!points.length) return steps('Start the cutting line in a view; it catches on centers, middles and ends.', ['Space', FORMS[options.form]], LEAVE)
      if (options.form === 'half') return steps('Click the center line at which the cut ends.', esc)
      return steps(options.form === 'aligned' ? 'Click the bend, then the end of the second leg.' : 'Click the end; further clicks make steps.', ['Enter', 'line is done'], ['Space', FORMS[options.form]], esc)
    case 'auxiliary':
      if (drawn) return steps('Place the auxiliary view square to the picked line.', ['Esc', 'pick again'])
      return steps(points.length ? 'Click the second point of the line it is square to.' : 'Pick a straight edge, or two points, that the view is square to.', esc)
    case 'detail':
      if (drawn) return steps(`Place detail${letter ? ` ${letter}` : ''}.`, ['Esc', 'draw the outline again'])
      if (!points.length) return steps('Click the middle of the detail.', ['Space', `outline: ${options.shape}`], LEAVE)
      return options.shape === 'free' ? steps('Click around the detail.', ['Enter', 'close the outline'], esc) : steps('Click how far it reaches.', esc)
    case 'breakout':
      if (drawn) return steps('Pick in a side view how deep to cut, or press Enter to cut to the middle.', ['Enter', 'to the middle'], esc)
      return steps(points.length ? 'Click around the place to break out.' : 'Click around the place to break out, inside one view.', ...close, esc)
    case 'web':
      return steps('Click around the rib or web that the section is not to cut.', ...close, esc)
    case 'interrupt':
      return steps(points.length ? 'Click where the view goes on.' : 'Click where the view is to break off.', ['Space', `break line: ${options.line}`], esc)
    case 'hatch':
      return steps('Click inside a closed region to hatch it.', LEAVE)
    case 'part':
      return steps(points.length ? 'Click on the same edge where the hidden part ends.' : 'Click on an edge where the part to hide begins.', esc)
    case null:
      return steps('Pick the view to take it from.')
  }
}
