// Surface texture: on an outline, at a leader, or on the sheet for all surfaces that have none of their own.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['texture'],
  tools: [
    {
      tool: 'texture', kind: 'texture', takes: 'tip',
      say: ({ answer, pointed }) =>
        pointed
          ? { say: `${answer?.texts[0] ?? 'Surface texture'}: near its line it stands on it, farther off at a leader.`, keys: [['Enter', 'place here'], ['Esc', 'point again']] }
          : { say: answer ? `${answer.texts[0]}: click to point at this.` : 'Point at a surface: its outline, or within it.', keys: [['Esc', 'leave']] },
      action: { id: 'texture', stage: 5, name: 'Surface texture', about: 'on an outline or at a leader', key: '⇧X', icon: 'texture', picture: 'M4 11l3.500 7L13 4h7M5.500 11h5' },
    },
    {
      tool: 'texture-rest', kind: 'texture', takes: 'place',
      say: () => ({ say: 'Place the texture of all surfaces that have none of their own, beside the title block.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'texture-rest', stage: 5, name: 'Texture unless stated', about: 'for all other surfaces', key: '⇧Q', icon: 'texture-rest', picture: 'M2 11l2.500 5L8 6h4M3 11h3.500M14 6q-2 5 0 10M19 6q2 5 0 10M15 12l1.500 3L18.500 8' },
    },
  ],
} satisfies KindOnDesk
