// One more like the chosen note, texture or weld, at another place.
import { PICK_TOOLS } from './kinds'
import { useDesk } from './store'
import { useTools } from './tools'

export async function sameAgain() {
  const desk = useDesk()
  const only = desk.selected.length === 1 ? desk.selected[0] : undefined
  const a = only?.kind === 'annotation' ? desk.annotation(only.id) : undefined
  const points = !!a && (('tips' in a && !!a.tips?.length) || ('tip' in a && !!a.tip))
  const tool = a && PICK_TOOLS.find((t) => t.kind === a.kind && t.takes === (points ? 'tip' : 'place'))
  if (!a || !tool) return desk.fail(new Error('Choose a note, a surface texture or a weld; then place it again.'))
  await useTools().take(tool.tool, { like: a.id })
}
