// Datums: a letter on a surface, or in line with a size.
import type { KindOnDesk } from './kind'
import DatumParticulars from '../DatumParticulars.vue'

export default {
  kinds: ['datum_feature'],
  panel: DatumParticulars,
  tools: [
    {
      tool: 'datum_feature', kind: 'datum_feature', takes: 'tip',
      say: ({ answer, pointed }) =>
        pointed
          ? { say: `${answer?.texts[0] ?? 'Datum'}: place its box.`, keys: [['Enter', 'place here'], ['Esc', 'point again']] }
          : { say: answer ? `${answer.texts[0]}: click to put it on this.` : 'Point at a surface, an extension line, or the line of a size for its axis or median plane.', keys: [['Esc', 'leave']] },
      action: { id: 'datum_feature', stage: 5, name: 'Datum', about: 'a letter on a surface or size', key: ';', icon: 'datum_feature', picture: 'M3 3h9v9H3zM7.500 12v3M4 19l3.500-4 3.500 4zM2 19h18' },
    },
  ],
} satisfies KindOnDesk
