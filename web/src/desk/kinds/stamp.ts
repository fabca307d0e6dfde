// Stamps: words in a frame, anywhere on the sheet. Their particulars are made from their data.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['stamp'],
  tools: [
    {
      tool: 'stamp', kind: 'stamp', takes: 'place',
      say: () => ({ say: 'Place the stamp; its words are set in the particulars.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'stamp', stage: 1, name: 'Stamp', about: 'framed words on the sheet', key: '⇧A', icon: 'stamp', picture: 'M2 7h18v8H2zM4 9h14v4H4zM6 11h10' },
    },
  ],
} satisfies KindOnDesk
