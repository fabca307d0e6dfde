// Which note is being written on the sheet: one that is there, or one that is placed once it says something.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { Answer } from '@/api/client'
import { useDesk } from './store'

export const useWriting = defineStore('writing', () => {
  const desk = useDesk()
  const id = ref('')
  /** The note that is not placed yet. */
  const pending = shallowRef<Answer | null>(null)
  const note = computed(() => (pending.value ? pending.value.annotations[0] : desk.annotation(id.value)))

  function open(annotation: string) {
    id.value = annotation
    desk.selected = [{ kind: 'annotation', id: annotation }]
  }
  function begin(answer: Answer) {
    pending.value = answer
    id.value = answer.annotations[0].id
  }
  /** Keep what was written; null for nothing. A new one stays open where the server refuses it. */
  async function done(text: string | null) {
    const a = note.value
    const isNew = pending.value
    const said = !!text?.trim()
    if (a?.kind === 'note' && said && isNew) {
      if (!(await desk.edit({ command: 'place', annotations: [{ ...a, text: text! }], sheet: desk.sheet!.id }))) return
      desk.selected = [{ kind: 'annotation', id: a.id }]
    }
    id.value = ''
    pending.value = null
    if (a?.kind === 'note' && said && !isNew && text !== a.text) await desk.edit({ command: 'change', ids: [a.id], values: { text: text! } })
  }
  return { id, pending, note, open, begin, done }
})
