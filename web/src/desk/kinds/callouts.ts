// Callouts: pick a hole, a slot or another feature, then place all that is said of it.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['hole_callout', 'feature_callout'],
  tools: [
    {
      tool: 'callout', kind: 'callout', takes: 'edge',
      say: ({ answer, picks }) =>
        picks.length
          ? { say: `${answer?.texts[0] ?? 'Feature'}: place its words.`, keys: [['Enter', 'place here'], ['Esc', 'pick another']] }
          : { say: answer ? `${answer.texts[0]}: click to call it out.` : 'Pick a hole, slot, groove or other feature: an edge, or its side.', keys: [['Esc', 'leave']] },
      action: { id: 'callout', stage: 4, name: 'Callout', about: 'all of a feature', key: '⇧D', icon: 'callout', picture: 'M6 11a4 4 0 1 1 0 8 4 4 0 0 1 0-8M9 12l4-6h8M14 3h6M14 9h4' },
    },
  ],
} satisfies KindOnDesk
