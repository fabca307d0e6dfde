// Stack-ups: two surfaces, and what the sizes between them add up to.
import type { KindOnDesk } from './kind'
import StackParticulars from '../StackParticulars.vue'
import StackTool from '../StackTool.vue'

export default {
  kinds: ['stack_up'],
  panel: StackParticulars,
  tools: [
    {
      tool: 'stack_up', kind: 'stack_up', takes: 'edges', selects: true, particulars: StackTool,
      enough: (picks) => (picks.length < 2 ? 'no' : 'at once'),
      say: ({ picks, answer }) => ({
        say: answer ? `${answer.texts[0]}: click to keep it.` : picks.length ? 'Pick the second surface: an edge of it, seen edge-on.' : 'Pick the first surface of the gap: an edge of it, or the side of a shaft or bore.',
        keys: [['Esc', picks.length ? 'pick again' : 'leave']],
      }),
      action: { id: 'stack_up', stage: 5, name: 'Stack-up', about: 'what sizes add up to', key: '"', icon: 'stack_up', picture: 'M3 4v14M19 4v14M3 7h9M12 5v4M12 11h7M12 9v4M3 15h16M6 13l-3 2 3 2M16 13l3 2-3 2' },
    },
  ],
} satisfies KindOnDesk
