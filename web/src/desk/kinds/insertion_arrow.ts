// Insertion arrows: from where a part is to where it goes.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['insertion_arrow'],
  tools: [
    {
      tool: 'insertion_arrow', kind: 'insertion_arrow', takes: 'trail', places: () => 2,
      say: ({ picks }) => ({ say: picks.length ? 'Click where the arrow points.' : 'Click where the arrow begins.', keys: [['Esc', picks.length ? 'begin again' : 'leave']] }),
      action: { id: 'insertion_arrow', rare: true, stage: 6, name: 'Insertion arrow', about: 'what goes where', key: '', icon: 'insertion_arrow', picture: 'M3 8.500h9V4.500l7 6.500-7 6.500v-4H3z' },
    },
  ],
} satisfies KindOnDesk
