// Balloons: point at a part, then place its number.
import BalloonParticulars from '../BalloonParticulars.vue'
import type { KindOnDesk } from './kind'

export default {
  kinds: ['balloon'],
  panel: BalloonParticulars,
  tools: [
    {
      tool: 'balloon', kind: 'balloon', takes: 'tip',
      say: ({ answer, pointed }) =>
        pointed
          ? { say: `Item ${answer?.texts[0] ?? ''}: place its balloon.`, keys: [['Enter', 'place here'], ['Esc', 'point again']] }
          : { say: answer ? `Item ${answer.texts[0]}: click to point at it.` : 'Point at a part: an edge or a face.', keys: [['Esc', 'leave']] },
      action: { id: 'balloon', stage: 7, name: 'Balloon', about: 'point at a part, place its number', key: '⇧I', icon: 'balloon', picture: 'M12 7a4 4 0 1 1 8 0 4 4 0 0 1-8 0M13 10l-9 8M16 5v4' },
    },
  ],
} satisfies KindOnDesk
