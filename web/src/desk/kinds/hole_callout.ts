// Hole callouts: pick a hole, then place all that is said of it.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['hole_callout'],
  tools: [
    {
      tool: 'callout', kind: 'hole_callout', takes: 'edge',
      say: ({ answer, picks }) =>
        picks.length
          ? { say: `${answer?.texts[0] ?? 'Hole'}: place its words.`, keys: [['Enter', 'place here'], ['Esc', 'pick another']] }
          : { say: answer ? `${answer.texts[0]}: click to call it out.` : 'Pick a hole: its circle, or its side.', keys: [['Esc', 'leave']] },
      action: { id: 'callout', stage: 4, name: 'Hole callout', about: 'all that is said of a hole', key: '⇧D', icon: 'callout', picture: 'M6 11a4 4 0 1 1 0 8 4 4 0 0 1 0-8M9 12l4-6h8M14 3h6M14 9h4' },
    },
  ],
} satisfies KindOnDesk
