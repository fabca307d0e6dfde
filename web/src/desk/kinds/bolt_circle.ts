// Bolt circles through three holes or more.
import CenterParticulars from '../CenterParticulars.vue'
import type { KindOnDesk } from './kind'

export default {
  kinds: ['bolt_circle'],
  panel: CenterParticulars,
  tools: [
    {
      tool: 'bolts', kind: 'bolt_circle', takes: 'edges',
      enough: (picks) => (picks.length < 3 ? 'no' : 'when said'),
      say: ({ picks }) => {
        const more = 3 - picks.length
        const leave: [string, string] = ['Esc', picks.length ? 'pick again' : 'leave']
        return more > 0
          ? { say: `Pick ${more === 3 ? 'three holes or more' : more === 2 ? 'two holes more' : 'one hole more'} on the circle.`, keys: [leave] }
          : { say: `${picks.length} holes: pick more, or place the circle.`, keys: [['Enter', 'place'], leave] }
      },
      action: { id: 'bolts', stage: 3, name: 'Bolt circle', about: 'through three holes or more', key: 'Y', icon: 'bolts', picture: 'M11 3a8 8 0 1 1 0 16 8 8 0 0 1 0-16M11 1v4M4 13.500l-3 2M18 13.500l3 2M9 11h4M11 9v4' },
    },
  ],
} satisfies KindOnDesk
