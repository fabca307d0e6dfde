// Center marks: on one circle at a click; with Shift several, which join in rows.
import CenterParticulars from '../CenterParticulars.vue'
import type { KindOnDesk } from './kind'

export default {
  kinds: ['center_mark'],
  panel: CenterParticulars,
  tools: [
    {
      tool: 'mark', kind: 'center_mark', takes: 'edges',
      enough: (picks, gathering) => (picks.length === 1 && !gathering ? 'at once' : 'when said'),
      say: ({ picks }) =>
        picks.length
          ? { say: `${picks.length} circles: pick more to join them in rows.`, keys: [['Enter', 'place'], ['Esc', 'pick again']] }
          : { say: 'Click a circle or an arc; with Shift pick several to join them.', keys: [['Esc', 'leave']] },
      action: { id: 'mark', stage: 3, name: 'Center mark', about: 'on a circle; several join in rows', key: 'O', icon: 'mark', picture: 'M11 5a6 6 0 1 1 0 12 6 6 0 0 1 0-12M2 11h6M14 11h6M11 2v6M11 14v6M10 11h2' },
    },
  ],
} satisfies KindOnDesk
