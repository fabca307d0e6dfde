// Another position of a part in phantom: the part, what it turns about, and how far.
import type { KindOnDesk } from './kind'

const SAY = ['Pick an edge of the part that has another position.', 'Pick the circle, center or point that it turns about.', 'Click where that edge goes to; the angle is in whole degrees.']

export default {
  kinds: ['other_position'],
  tools: [
    {
      tool: 'other_position', kind: 'other_position', takes: 'trail', places: () => 3,
      say: ({ picks, answer }) => ({ say: picks.length === 2 && answer ? `${answer.texts[0]}: click to place it.` : SAY[Math.min(picks.length, 2)], keys: [['Esc', picks.length ? 'begin again' : 'leave']] }),
      action: { id: 'other_position', rare: true, stage: 2, name: 'Other position', about: 'a part turned, in phantom', key: '', icon: 'other_position', picture: 'M3 18h12v-3H3zM5 13l8-9 2 2M17 16a9 9 0 0 0-3-7' },
    },
  ],
} satisfies KindOnDesk
