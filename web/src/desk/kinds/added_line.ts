// Added lines: straight ones, polylines, circles and arcs on edges, points and free places; and what ties them.
import type { KindOnDesk, Settings } from './kind'
import AddedLineParticulars from '../AddedLineParticulars.vue'
import AddedLineTool from '../AddedLineTool.vue'

export const FORMS = ['line', 'polyline', 'circle', 'arc', 'tangent', 'traced'] as const
const PLACES: Record<string, number> = { line: 2, polyline: 0, circle: 2, arc: 3, tangent: 3, traced: 1 }
const SAY: Record<string, string[]> = {
  line: ['Click where the line begins: a point, an edge, or beside them.', 'Click where it ends.'],
  polyline: ['Click where the polyline begins.', 'Click its corners; the first one again closes it.'],
  circle: ['Click the center.', 'Click a place it goes through, or an edge that it touches.'],
  arc: ['Click the center of the arc.', 'Click where it begins.', 'Click where it ends.'],
  tangent: ['Pick the first line or circle that it touches.', 'Pick the second one.', 'Pick a third one, or click beside them for its place and radius.'],
  traced: ['Pick the lines of an underlay that are to be lines of the drawing.'],
}
const formOf = (s: Settings) => String(s.form ?? 'line')

export default {
  kinds: ['added_line'],
  panel: AddedLineParticulars,
  tools: [
    {
      tool: 'added_line', kind: 'added_line', takes: 'trail', settings: { form: 'line', line: 'visible', other: false }, particulars: AddedLineTool,
      places: (s) => PLACES[formOf(s)],
      space: (s) => (s.form === 'arc' && !s.other ? { ...s, other: true } : { ...s, other: false, form: FORMS[(FORMS.indexOf(formOf(s) as (typeof FORMS)[number]) + 1) % FORMS.length] }),
      say: ({ picks, settings }) => {
        const form = formOf(settings)
        const said = SAY[form]
        const next = FORMS[(FORMS.indexOf(form as (typeof FORMS)[number]) + 1) % FORMS.length]
        const space = form === 'arc' && !settings.other ? 'the other way' : next === 'tangent' ? 'tangent circle' : next === 'traced' ? 'trace an underlay' : next
        return {
          say: said[Math.min(picks.length, said.length - 1)],
          keys: [...(form === 'polyline' && picks.length > 1 ? ([['Enter', 'end here']] as [string, string][]) : []), ['Space', space], ['Esc', picks.length ? 'begin again' : 'leave']],
        }
      },
      action: { id: 'added_line', stage: 6, name: 'Added line', about: 'line, polyline, circle, arc', key: '⇧K', icon: 'added_line', picture: 'M3 18L14 5M3 18h9M17 14a4 4 0 1 0 0.010 0' },
    },
    {
      tool: 'tie', kind: 'tie', takes: 'trail', replaces: true, settings: { option: '' },
      places: () => 2,
      space: (s, answer) => {
        const all = answer?.options ?? []
        return all.length ? { ...s, option: all[(all.indexOf(answer!.option) + 1) % all.length] } : s
      },
      say: ({ picks, answer }) =>
        !picks.length
          ? { say: 'Pick an added line, or an end or center of one.', keys: [['Esc', 'leave']] }
          : { say: answer ? `${answer.option}: click to hold it so.` : 'Pick what it is to be tied to.', keys: [...((answer?.options.length ?? 0) > 1 ? ([['Space', 'another tie']] as [string, string][]) : []), ['Esc', 'begin again']] },
      action: { id: 'tie', stage: 6, name: 'Tie', about: 'hold an added line', key: '⇧U', icon: 'tie', picture: 'M4 17L12 5M10 18L18 6M6 8l3 2M13 14l3 2' },
    },
  ],
} satisfies KindOnDesk
