// Notes: at the end of a leader, or by themselves on the sheet; written where they stand.
import type { KindOnDesk } from './kind'
import { useWriting } from '../writing'

export default {
  kinds: ['note'],
  tools: [
    {
      tool: 'note', kind: 'note', takes: 'tip', then: (id) => useWriting().open(id, true),
      say: ({ answer, pointed }) =>
        pointed
          ? { say: 'Place the note; then write it.', keys: [['Enter', 'place here'], ['Esc', 'point again']] }
          : { say: answer ? 'Click to point at this.' : 'Point at what the note is about: an edge or a face.', keys: [['Esc', 'leave']] },
      action: { id: 'note', stage: 6, name: 'Note', about: 'words at a leader', key: '⇧L', icon: 'note', picture: 'M3 19l6-10h4M13 5h7M13 9h7M13 13h5M3 19l1-4M3 19l4-2' },
    },
    {
      tool: 'words', kind: 'note', takes: 'place', then: (id) => useWriting().open(id, true),
      say: () => ({ say: 'Place the words on the sheet; then write them.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'words', stage: 6, name: 'Words on the sheet', about: 'a note without a leader', key: '⇧W', icon: 'words', picture: 'M4 6h14M4 10h14M4 14h9M4 18h11' },
    },
  ],
} satisfies KindOnDesk
