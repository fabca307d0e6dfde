// Center lines: the axis of a cylinder, the line between two edges or points, the symmetry axis of a view.
import CenterParticulars from '../CenterParticulars.vue'
import type { KindOnDesk } from './kind'

export default {
  kinds: ['center_line'],
  panel: CenterParticulars,
  tools: [
    {
      tool: 'line', kind: 'center_line', takes: 'edges',
      enough: (picks, _, isOutline) => (picks.length === 2 || (picks.length === 1 && isOutline(picks[0])) ? 'at once' : 'no'),
      say: ({ picks }) =>
        picks.length
          ? { say: 'Pick the second: a parallel edge, or another point.', keys: [['Esc', 'pick again']] }
          : { say: 'Click the outline of a cylinder for its axis, or the first of two parallel edges, ends or circles.', keys: [['Esc', 'leave']] },
      action: { id: 'centerline', stage: 3, name: 'Center line', about: 'an axis, or between two', key: 'L', icon: 'centerline', picture: 'M3 6h16M3 16h16M2 11h6M10 11h2M14 11h6' },
    },
    {
      tool: 'axis', kind: 'center_line', takes: 'view', settings: { axis: 'vertical' },
      space: (s) => ({ axis: s.axis === 'vertical' ? 'horizontal' : 'vertical' }),
      say: ({ settings }) => ({ say: `Click a view for its ${settings.axis} symmetry axis.`, keys: [['Space', 'other direction'], ['Esc', 'leave']] }),
      action: { id: 'symmetry', stage: 3, name: 'Symmetry axis', about: 'of a whole view', key: 'Z', icon: 'symmetry', picture: 'M4 6h5v10H4zM13 6h5v10h-5zM11 2v5M11 9v3M11 14v6' },
    },
  ],
} satisfies KindOnDesk
