// Datum targets: points, lines and areas that a datum is made of.
import type { KindOnDesk } from './kind'

const FORMS = ['point', 'line', 'circle', 'rectangle']

export default {
  kinds: ['datum_target'],
  tools: [
    {
      tool: 'datum_target', kind: 'datum_target', takes: 'tip', settings: { form: 'point', letter: '' },
      space: (s) => ({ ...s, form: FORMS[(FORMS.indexOf(String(s.form)) + 1) % FORMS.length] }),
      gathers: (other, s) => (other.kind === 'datum_feature' ? { ...s, letter: other.letter ?? 'A' } : null),
      say: ({ answer, pointed, settings }) =>
        pointed
          ? { say: `${answer?.texts[0] ?? 'Datum target'}: place its symbol, or click the symbol of its datum.`, keys: [['Space', 'another form'], ['Esc', 'point again']] }
          : { say: `Point at the surface where the target ${settings.form} is.`, keys: [['Space', 'another form'], ['Esc', 'leave']] },
      action: { id: 'datum_target', stage: 5, rare: true, name: 'Datum target', about: 'a point, line or area', key: '', icon: 'datum_target', picture: 'M11 3a7 7 0 1 1 0 14 7 7 0 0 1 0-14M4 10h14M9 13.500h4M2 20l3-4' },
    },
  ],
} satisfies KindOnDesk
