// The tools of the Parts stage: balloons placed one by one or for a whole view, and the parts list.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Annotation, type Schemas } from '@/api/client'
import type { XY } from './places'
import { useDesk } from './store'

export type PartTool = 'balloon'
export const PART_TOOLS: PartTool[] = ['balloon']
export type Balloon = Extract<Annotation, { kind: 'balloon' }>
type Preview = Schemas['BalloonPreview']
export const isBalloon = (a: Annotation | undefined): a is Balloon => a?.kind === 'balloon'

export const usePartTools = defineStore('partTools', () => {
  const desk = useDesk()
  const tool = ref<PartTool | null>(null)
  const pointer = ref<XY>({ x: 0, y: 0 })
  const over = ref<string | null>(null)
  /** Where the leader ends, once it is picked. */
  const tip = ref<{ view: string; at: XY } | null>(null)
  const preview = shallowRef<Preview | null>(null)
  const refusal = ref('')
  let asking: Promise<void> | null = null
  let again = false

  const prompt = computed(() => {
    if (!tip.value) return { say: preview.value ? `Item ${preview.value.text}: click to point at it.` : 'Point at a part: an edge or a face.', keys: [['Esc', 'leave']] as [string, string][] }
    return { say: `Item ${preview.value?.text ?? ''}: place its balloon.`, keys: [['Enter', 'place here'], ['Esc', 'point again']] as [string, string][] }
  })

  function start(name: PartTool) {
    reset()
    tool.value = name
  }
  function reset() {
    tool.value = null
    tip.value = null
    preview.value = null
    refusal.value = ''
  }
  function back(): boolean {
    refusal.value = ''
    if (!tip.value) return false
    tip.value = null
    preview.value = null
    return true
  }

  const ask = (body: Schemas['BalloonRequest']) => data(api.POST('/api/drawings/{drawing_id}/balloon', { params: { path: { drawing_id: desk.drawing!.id } }, body }))
  /** What would be placed here; one question under way at a time, the latest pointer wins. */
  function look(): Promise<void> {
    again = true
    asking ??= (async () => {
      try {
        while (again && tool.value) {
          again = false
          const view = tip.value?.view ?? over.value
          if (!view) {
            preview.value = null
            continue
          }
          try {
            preview.value = await ask({ view, id: '', tip: tip.value?.at ?? pointer.value, place: tip.value ? pointer.value : null })
            refusal.value = ''
          } catch (error) {
            preview.value = null
            if (tip.value) refusal.value = (error as Error).message
          }
        }
      } finally {
        asking = null
      }
    })()
    return asking
  }
  function move(at: XY, under: string | null) {
    pointer.value = at
    over.value = under
    void look()
  }
  async function click() {
    // what is clicked is what lies here now; the pointer goes on while the server answers
    const at = pointer.value
    const view = tip.value?.view ?? over.value
    if (!view) {
      refusal.value = 'Point at a part in a view.'
      return
    }
    const first = tip.value
    if (!first) tip.value = { view, at }
    try {
      const found = await ask({ view, id: '', tip: first?.at ?? at, place: first ? at : null })
      refusal.value = ''
      if (!first) return
      tip.value = null
      preview.value = null
      if (!(await desk.edit({ command: 'place_balloons', balloons: [found.balloon] }))) tip.value = first
    } catch (error) {
      if (!first) tip.value = null
      refusal.value = (error as Error).message
    }
  }

  /** A balloon that is there as it would be with its end or itself under the pointer. */
  const dragged = (b: Balloon, at: XY, grip: 'tip' | 'place') => ask({ view: b.view, id: b.id, tip: grip === 'tip' ? at : null, place: grip === 'place' ? at : null })
  /** What of a balloon lies under a place of the sheet: itself or its leader. */
  function gripAt(b: Balloon, at: XY): 'tip' | 'place' {
    const v = desk.view(b.view)!
    const k = desk.scaleOf(v)
    const r = 0.95 * desk.document!.profile.label_height!
    const far = Math.hypot(v.position.x + b.place.model.x * k + b.place.paper.x - at.x, v.position.y + b.place.model.y * k + b.place.paper.y - at.y)
    return far < r * (2 * (b.stacked?.length ?? 0) + 1.15) ? 'place' : 'tip'
  }

  /** Balloons for everything the chosen views show, or the only view of the sheet. */
  async function numberAll() {
    const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : s.kind === 'annotation' ? [desk.annotation(s.id)?.view ?? ''] : []))
    const all = (desk.sheet?.views ?? []).filter((v) => v.kind !== 'detail')
    const views = [...new Set(chosen.length ? chosen : all.length === 1 ? [all[0].id] : [])]
    if (!views.length) {
      desk.said = all.length ? 'Choose the view whose parts are to be numbered' : 'There is no view to number the parts of'
      return
    }
    try {
      const said: string[] = []
      for (const id of views) {
        const answer = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/balloons', { params: { path: { drawing_id: desk.drawing!.id, view_id: id } } }))
        if (!answer.balloons.length) said.push('No part is seen here')
        else if (await desk.edit({ command: 'place_balloons', balloons: answer.balloons })) said.push(`${answer.balloons.length} balloons placed`)
        if (answer.unseen.length) said.push(`not seen here: ${answer.unseen.map((u) => `${u.item} ${u.name}${u.views?.length ? ` (in ${u.views.join(', ')})` : ''}`).join(', ')}`)
      }
      desk.said = said.join('; ')
    } catch (error) {
      desk.fail(error)
    }
  }

  /** Item numbers in the order in which the balloons of the chosen view stand, clockwise from the upper left. */
  async function clockwise() {
    const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : s.kind === 'annotation' ? [desk.annotation(s.id)?.view ?? ''] : []))
    const ballooned = [...new Set((desk.sheet?.annotations ?? []).filter(isBalloon).map((b) => b.view))]
    const view = chosen[0] ?? (ballooned.length === 1 ? ballooned[0] : '')
    if (!view) {
      desk.said = ballooned.length ? 'Choose the view whose balloons are to be read in order' : 'There are no balloons on this sheet yet'
      return
    }
    try {
      const { keys } = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/reading-order', { params: { path: { drawing_id: desk.drawing!.id, view_id: view } } }))
      await desk.edit({ command: 'number_in_order', keys })
    } catch (error) {
      desk.fail(error)
    }
  }

  /** The sheet's parts list, placed on its title block where there is none. */
  async function list() {
    const there = desk.sheet?.parts_lists?.[0]
    if (there) {
      desk.selected = [{ kind: 'list', id: there.id }]
      return
    }
    const id = crypto.randomUUID().replaceAll('-', '').slice(0, 12)
    if (await desk.edit({ command: 'place_parts_list', sheet: desk.sheet!.id, parts_list: { id } })) desk.selected = [{ kind: 'list', id }]
  }

  return { tool, tip, preview, refusal, prompt, start, reset, back, move, click, dragged, gripAt, numberAll, clockwise, list }
})
