// Pictures on the sheet, above or below its lines.
import type { KindOnDesk } from './kind'
import { PICTURES, bringIn } from '../placedFiles'

export default {
  kinds: ['picture'],
  tools: [
    {
      tool: 'picture', kind: 'picture', takes: 'place', once: true, begin: () => bringIn(PICTURES),
      say: () => ({ say: 'Click where the picture goes; its width and angle are set in the particulars.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'picture', stage: 6, name: 'Picture', about: 'PNG, JPEG or SVG', key: '⇧Z', icon: 'picture', picture: 'M3 4h16v14H3zM3 15l5-5 4 4 3-3 4 4M13.500 8a1 1 0 1 0 0.010 0' },
    },
  ],
} satisfies KindOnDesk
