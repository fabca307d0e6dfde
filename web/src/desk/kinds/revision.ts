// Revision clouds and the revision table. Their particulars are made from their data.
import type { KindOnDesk } from './kind'

export default {
  kinds: ['revision_cloud', 'revision_table'],
  tools: [
    {
      tool: 'revision_cloud', kind: 'revision_cloud', takes: 'place', selects: true,
      say: () => ({ say: 'Click the middle of what was changed; the size of the cloud is set in the particulars.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'revision_cloud', stage: 9, name: 'Revision cloud', about: 'about what was changed', key: '', icon: 'revision_cloud', picture: 'M5 8a3 3 0 0 1 5-2a3 3 0 0 1 5 1a3 3 0 0 1 2 5a3 3 0 0 1-4 3a3 3 0 0 1-5 0a3 3 0 0 1-4-3a3 3 0 0 1 1-4z' },
    },
    {
      tool: 'revision_table', kind: 'revision_table', takes: 'place', once: true,
      say: () => ({ say: 'Click where the corner of the revision table goes.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'revision_table', rare: true, stage: 9, name: 'Revision table', about: 'what was changed, and when', key: '', icon: 'revision_table', picture: 'M2 5h18v12H2zM2 9h18M2 13h18M6 5v12M15 5v12' },
    },
  ],
} satisfies KindOnDesk
