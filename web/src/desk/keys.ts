// The keys of the desk: they work whenever no text field has the cursor. An action of the chosen stage goes before another with its key.
import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import type { Action } from './actions'
import { useModelSizes } from './modelSizes'
import { useDesk } from './store'
import { useTools } from './tools'
import { useViewTools } from './viewTools'

const TEXT = ['text', 'number', 'search', 'password', 'email', 'url', 'tel', 'date']
const STEPS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
const STAGES = [1, 2, 3, 4, 5, 6, 7, 8, 9]

/** Whether keys belong to what has the cursor: a text field, or a list that is open. */
function isTyping(target: HTMLElement): boolean {
  if (target.isContentEditable || target instanceof HTMLTextAreaElement || target.getAttribute('aria-expanded') === 'true') return true
  return target instanceof HTMLInputElement && TEXT.includes(target.type) && !target.readOnly
}

export function useDeskKeys(actions: Action[], stage: Ref<number>, find: () => void) {
  const desk = useDesk()
  const tools = useTools()
  const model = useModelSizes()
  const views = useViewTools()

  function nudge(dx: number, dy: number) {
    for (const s of desk.selected) {
      const v = s.kind === 'view' ? desk.view(s.id) : undefined
      if (v) void desk.edit({ command: 'move_view', view: v.id, position: { x: v.position.x + dx, y: v.position.y + dy } })
      const a = s.kind === 'annotation' ? desk.annotation(s.id) : undefined
      if (a && 'place' in a) void desk.edit({ command: 'move', moves: [{ id: a.id, place: { model: a.place.model, paper: { x: a.place.paper.x + dx, y: a.place.paper.y + dy } } }], with_run: true })
      else if (a && 'position' in a) void desk.edit({ command: 'move', moves: [{ id: a.id, position: { x: a.position.x + dx, y: a.position.y + dy } }], with_run: true })
    }
  }

  function turnSheet(by: number) {
    const sheets = desk.document?.sheets ?? []
    const next = sheets[sheets.findIndex((s) => s.id === desk.sheet?.id) + by]
    if (next) void desk.showSheet(next.id)
  }

  function key(event: KeyboardEvent) {
    const target = event.target as HTMLElement
    const typing = isTyping(target)
    if ((event.ctrlKey || event.metaKey) && ['z', 'y'].includes(event.key.toLowerCase())) {
      if (typing) return
      void (event.shiftKey || event.key.toLowerCase() === 'y' ? desk.redo() : desk.undo())
      return event.preventDefault()
    }
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return
    if (event.key === 'Escape' && model.open && tools.tool === 'select') model.close()
    else if (event.key === 'Escape') tools.back()
    else if (event.key === ' ') {
      if (target.closest('button, a') && tools.tool === 'select') return
      tools.space()
    } else if (event.key === 'Enter') {
      if (tools.tool === 'select') return
      tools.enter()
    } else if (event.key === 'Delete' || event.key === 'Backspace') desk.removeSelected()
    else if (event.key in STEPS && desk.selected.length) nudge(...(STEPS[event.key].map((v) => v * (event.shiftKey ? 10 : 1)) as [number, number]))
    else if (event.key === '/') find()
    else if (event.key === 'PageUp' || event.key === 'PageDown') turnSheet(event.key === 'PageUp' ? -1 : 1)
    else if (event.key.toLowerCase() === 'q' && (tools.tool === 'main' || tools.tool === 'set')) views.turnBy('clockwise')
    else if (/^[1-9]$/.test(event.key)) stage.value = STAGES.includes(Number(event.key)) ? Number(event.key) : stage.value
    else {
      const wanted = (event.shiftKey && /^[a-z]$/i.test(event.key) ? '⇧' : '') + event.key.toUpperCase()
      const action = actions.find((a) => a.key === wanted && a.stage === stage.value) ?? actions.find((a) => a.key === wanted)
      if (!action) return
      stage.value = action.stage
      action.run()
    }
    event.preventDefault()
  }

  useEventListener(window, 'keydown', key)
}
