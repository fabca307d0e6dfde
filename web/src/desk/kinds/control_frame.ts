// Control frames: point at what is toleranced, choose or type what the frame says, place it.
import type { KindOnDesk } from './kind'
import FrameParticulars from '../FrameParticulars.vue'
import FrameTool from '../FrameTool.vue'

export default {
  kinds: ['control_frame'],
  panel: FrameParticulars,
  tools: [
    {
      tool: 'control_frame', kind: 'control_frame', takes: 'tip', settings: { line: '', characteristic: '', datums: '' }, particulars: FrameTool,
      space: (s, answer) => {
        const all = answer?.options ?? []
        return all.length ? { ...s, line: '', datums: '', characteristic: all[(all.indexOf(answer!.option) + 1) % all.length] } : s
      },
      gathers: (other, s) => {
        if (other.kind !== 'datum_feature') return null
        const letter = other.letter ?? 'A'
        if (s.line) return { ...s, line: `${s.line} ${letter}` }
        const now = String(s.datums).split(' ').filter((d) => d)
        return { ...s, datums: (now.includes(letter) ? now.filter((d) => d !== letter) : [...now, letter]).join(' ') }
      },
      say: ({ answer, pointed }) =>
        pointed
          ? { say: `${answer ? `${answer.texts[0]}: ` : ''}place the frame, or click datum symbols; near a size's number it stands under it.`, keys: [['Space', 'another characteristic'], ['Esc', 'point again']] }
          : { say: answer ? `${answer.texts[0]}: click to tolerance this.` : 'Point at a surface, an extension line, or the line of a size for its axis or median plane.', keys: [...(answer ? ([['Space', 'another characteristic']] as [string, string][]) : []), ['Esc', 'leave']] },
      action: { id: 'control_frame', stage: 5, name: 'Control frame', about: 'a geometric tolerance', key: "'", icon: 'control_frame', picture: 'M2 7h18v8H2zM8 7v8M15 7v8M3 11h4M5 9v4M10 11h3M16.500 13l1-4 1 4' },
    },
  ],
} satisfies KindOnDesk
