// Underlays: a DXF file beneath a view or on the sheet, and its scale from two of its points.
import type { KindOnDesk } from './kind'
import { bringIn } from '../placedFiles'
import UnderlayParticulars from '../UnderlayParticulars.vue'
import UnderlayScaleTool from '../UnderlayScaleTool.vue'

export default {
  kinds: ['underlay'],
  panel: UnderlayParticulars,
  tools: [
    {
      tool: 'underlay', kind: 'underlay', takes: 'trail', places: () => 1, once: true, begin: () => bringIn('.dxf'),
      say: ({ settings }) => ({ say: `Click where the lower left corner of ${settings.name ?? 'the drawing'} goes: in a view, or on the sheet.`, keys: [['Esc', 'leave']] }),
      action: { id: 'underlay', stage: 6, name: 'Underlay', about: 'a DXF drawing of old', key: '⇧F', icon: 'underlay', picture: 'M3 8l8-4 8 4-8 4zM3 12l8 4 8-4M3 16l8 4 8-4' },
    },
    {
      tool: 'scale_underlay', kind: 'scale_underlay', takes: 'trail', places: () => 2, replaces: true, once: true, settings: { distance: 0 }, particulars: UnderlayScaleTool,
      say: ({ picks, settings }) => ({
        say: !settings.distance ? 'Say in the particulars how far two points are apart.' : picks.length ? 'Pick the second point of the underlay.' : 'Pick the first point of the underlay: the end of a line, or a center.',
        keys: [['Esc', picks.length ? 'begin again' : 'leave']],
      }),
      action: { id: 'scale_underlay', rare: true, stage: 6, name: 'Scale an underlay', about: 'by two points of it', key: '', icon: 'scale_underlay', picture: 'M3 17L19 5M3 13v4h4M15 5h4v4' },
    },
  ],
} satisfies KindOnDesk
