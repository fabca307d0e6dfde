// Notes: at the end of a leader, or by themselves on the sheet; written where they stand.
import type { KindOnDesk } from './kind'
import { useDesk } from '../store'
import NoteParticulars from '../NoteParticulars.vue'

async function chosenNote() {
  const desk = useDesk()
  const chosen = desk.selected.length === 1 && desk.selected[0].kind === 'annotation' ? desk.annotation(desk.selected[0].id) : undefined
  if (chosen?.kind === 'note' && chosen.tips?.length) return { note: chosen.id }
  desk.fail(new Error('Choose a note that has a leader first.'))
  return null
}

export default {
  kinds: ['note'],
  panel: NoteParticulars,
  tools: [
    {
      tool: 'note', kind: 'note', takes: 'tip', writes: true,
      say: ({ answer, pointed }) =>
        pointed
          ? { say: 'Place the note; then write it.', keys: [['Enter', 'place here'], ['Esc', 'point again']] }
          : { say: answer ? 'Click to point at this.' : 'Point at what the note is about: an edge, a face, or a line of a size.', keys: [['Esc', 'leave']] },
      action: { id: 'note', stage: 6, name: 'Note', about: 'words at a leader', key: '⇧L', icon: 'note', picture: 'M3 19l6-10h4M13 5h7M13 9h7M13 13h5M3 19l1-4M3 19l4-2' },
    },
    {
      tool: 'words', kind: 'note', takes: 'place', inView: true, writes: true, settings: { words: true },
      say: () => ({ say: 'Place the words, in a view to go with it, or anywhere on the sheet; then write them.', keys: [['Enter', 'place here'], ['Esc', 'leave']] }),
      action: { id: 'words', stage: 6, name: 'Words on the sheet', about: 'a note without a leader', key: '⇧W', icon: 'words', picture: 'M4 6h14M4 10h14M4 14h9M4 18h11' },
    },
    {
      tool: 'further_leader', kind: 'further_leader', takes: 'trail', replaces: true, places: () => 1, begin: chosenNote,
      say: ({ answer }) => ({ say: answer ? 'Click to end one more leader here.' : 'Point at what else the note is about.', keys: [['Esc', 'leave']] }),
      action: { id: 'further_leader', rare: true, stage: 6, name: 'Further leader', about: 'of the chosen note', key: ',', icon: 'further_leader', picture: 'M2 19l8-8h9M2 4l8 7M2 19l1-4M2 19l4-1M2 4l1 4M2 4l4 1' },
    },
  ],
} satisfies KindOnDesk
