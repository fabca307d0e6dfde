// Which note is being written on the sheet.
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { useDesk } from './store'

export const useWriting = defineStore('writing', () => {
  const desk = useDesk()
  const id = ref('')
  /** A note that was placed just now goes again where nothing is written. */
  const isNew = ref(false)

  function open(note: string, fresh = false) {
    id.value = note
    isNew.value = fresh
    desk.selected = [{ kind: 'annotation', id: note }]
  }
  async function done(text: string | null) {
    const note = id.value
    const a = desk.annotation(note)
    const fresh = isNew.value
    id.value = ''
    if (a?.kind !== 'note') return
    if (text?.trim()) {
      if (text !== a.text) await desk.edit({ command: 'change', ids: [note], values: { text } })
    } else if (fresh) await desk.removeSelected()
  }
  return { id, isNew, open, done }
})
