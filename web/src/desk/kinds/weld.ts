// Welds: point at the seam, then place the symbol.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['weld'],
  table: { name: 'All welds of the drawing', address: 'welds' },
  tools: [
    {
      tool: 'weld', kind: 'weld', takes: 'tip', settings: { form: '' },
      space: (s, answer) => {
        const all = answer?.options ?? []
        return all.length ? { ...s, form: all[(all.indexOf(answer!.option) + 1) % all.length] } : s
      },
      say: ({ answer, pointed }) =>
        pointed
          ? { say: `${answer?.texts[0] ?? 'Weld'}: place its symbol; its sizes are set in the particulars.`, keys: [['Enter', 'place here'], ['Space', 'another weld'], ['Esc', 'point again']] }
          : { say: answer ? `${answer.texts[0]}: click to point at this seam.` : 'Point at the seam.', keys: [...(answer ? ([['Space', 'another weld']] as [string, string][]) : []), ['Esc', 'leave']] },
      action: { id: 'weld', stage: 6, name: 'Weld', about: 'its symbol at the seam', key: '⇧V', icon: 'weld', picture: 'M2 18l5-9h13M11 9V4l5 5M7 12h3M12 12h3M17 12h3' },
    },
  ],
} satisfies KindOnDesk
