// The tools of the desk: each says what it wants next, shows what it would do, and stays until Esc.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Orientation, type Picked, type Preview, type Relation } from '@/api/client'
import { PLACES } from '@/words'
import type { HitIndex } from './hit'
import { aligned, relationOf, type XY } from './places'
import { useDesk } from './store'

export type ToolName = 'select' | 'main' | 'projected' | 'size'
/** A curve under the pointer; at is in view mm at 1:1. */
export interface Spot {
  view: string
  curve: number
  at: XY
}
export interface Ghost {
  at: XY
  scale: number
  geometry: HitIndex | null
  label: string
}

const iso = (sx: number, up: number): Orientation => {
  const toward = [sx, -1, up].map((v) => v / Math.sqrt(3))
  const right = [1, sx, 0].map((v) => v / Math.SQRT2)
  const u = [toward[1] * right[2] - toward[2] * right[1], toward[2] * right[0] - toward[0] * right[2], toward[0] * right[1] - toward[1] * right[0]]
  return { right, up: u }
}
export const DIRECTIONS: { name: string; orientation: Orientation; pictorial: boolean }[] = [
  { name: 'front', orientation: { right: [1, 0, 0], up: [0, 0, 1] }, pictorial: false },
  { name: 'top', orientation: { right: [1, 0, 0], up: [0, 1, 0] }, pictorial: false },
  { name: 'right', orientation: { right: [0, 1, 0], up: [0, 0, 1] }, pictorial: false },
  { name: 'left', orientation: { right: [0, -1, 0], up: [0, 0, 1] }, pictorial: false },
  { name: 'rear', orientation: { right: [-1, 0, 0], up: [0, 0, 1] }, pictorial: false },
  { name: 'bottom', orientation: { right: [1, 0, 0], up: [0, -1, 0] }, pictorial: false },
  { name: 'isometric', orientation: iso(1, 1), pictorial: true },
]

export const useTools = defineStore('tools', () => {
  const desk = useDesk()
  const tool = ref<ToolName>('select')
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const ghost = shallowRef<Ghost | null>(null)
  const preview = shallowRef<Preview | null>(null)
  const refusal = ref('')

  const direction = ref(0)
  const parent = ref('')
  const relation = ref<Relation>('right')
  let choices: { relation: Relation; orientation: Orientation }[] = []

  const picks = ref<Spot[]>([])
  const wish = ref<'aligned' | 'horizontal' | 'vertical'>('aligned')
  let asking = false
  let askAgain = false

  const prompt = computed(() => {
    if (tool.value === 'main') return { say: `Place the main view, seen from the ${DIRECTIONS[direction.value].name}.`, keys: [['Space', 'another direction'], ['Esc', 'leave']] }
    if (tool.value === 'projected') {
      if (!parent.value) return { say: 'Pick the view to project from.', keys: [['Esc', 'leave']] }
      return { say: `Place the view ${PLACES[relation.value]}; move around the picked view for another.`, keys: [['Esc', 'another view']] }
    }
    if (tool.value === 'size') {
      if (!picks.value.length) return { say: 'Pick an edge or a circle.', keys: [['Esc', 'leave']] }
      const kind = preview.value?.kind ?? 'Size'
      const more = (preview.value?.directions.length ?? 0) > 1
      const keys = [...(more ? [['Space', 'other direction']] : []), ['Enter', 'place here'], ['Esc', 'pick again']]
      if (picks.value.length === 1) return { say: `${kind} ${preview.value?.text ?? ''}: place it, or pick a second edge for a distance.`, keys }
      return { say: `${kind} ${preview.value?.text ?? ''}: place it.`, keys }
    }
    return null
  })

  function start(name: ToolName) {
    stop()
    tool.value = name
    refusal.value = ''
    if (name === 'main') void showMain()
    if (name === 'projected') {
      const first = desk.selected.find((s) => s.kind === 'view')
      const id = first?.kind === 'view' ? first.id : ''
      const usable = (desk.sheet?.views ?? []).filter((v) => v.kind !== 'pictorial')
      if (usable.some((v) => v.id === id)) void projectFrom(id)
      else if (usable.length === 1) void projectFrom(usable[0].id)
      else if (!usable.length) refusal.value = 'There is no view to project from; place the main view first.'
    }
    if (name === 'size') {
      const curves = desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))
      picks.value = curves.slice(0, 2).map((s) => ({ view: s.view, curve: s.curve, at: { x: 0, y: 0 } }))
      if (picks.value.length) void ask()
    }
    desk.selected = []
  }

  function stop() {
    tool.value = 'select'
    ghost.value = null
    preview.value = null
    picks.value = []
    parent.value = ''
    wish.value = 'aligned'
    refusal.value = ''
  }

  /** One step back: the last pick, then the tool, then the selection. */
  function back() {
    refusal.value = ''
    if (tool.value === 'size' && picks.value.length) {
      picks.value = picks.value.slice(0, -1)
      preview.value = null
      if (picks.value.length) void ask()
    } else if (tool.value === 'projected' && parent.value && (desk.sheet?.views.length ?? 0) > 1) {
      parent.value = ''
      ghost.value = null
    } else if (tool.value !== 'select') stop()
    else desk.selected = []
  }

  // ---- views -------------------------------------------------------------------------------------------------------
  async function showMain() {
    const d = DIRECTIONS[direction.value]
    const scale = desk.sheet ? desk.sheet.scale.drawn / desk.sheet.scale.true : 1
    ghost.value = { at: pointer.value, scale, geometry: null, label: d.name }
    await fillGhost(d.orientation, () => tool.value === 'main' && DIRECTIONS[direction.value] === d)
  }

  async function fillGhost(orientation: Orientation, wanted: () => boolean) {
    try {
      for (;;) {
        const geometry = await desk.geometryFor(orientation)
        if (!wanted() || !ghost.value) return
        if (geometry) {
          ghost.value = { ...ghost.value, geometry }
          return
        }
        await new Promise((done) => setTimeout(done, 150))
      }
    } catch (error) {
      if (wanted()) refusal.value = (error as Error).message
    }
  }

  async function projectFrom(id: string) {
    const view = desk.view(id)
    if (!view) return
    if (view.kind === 'pictorial') {
      refusal.value = 'Nothing is projected from a pictorial view; pick a main or projected view.'
      return
    }
    refusal.value = ''
    try {
      choices = await data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/projections', { params: { path: { drawing_id: desk.drawing!.id, view_id: id } } }))
    } catch (error) {
      refusal.value = (error as Error).message
      return
    }
    parent.value = id
    relation.value = relationOf(pointer.value.x - view.position.x, pointer.value.y - view.position.y)
    showProjected()
  }

  function showProjected() {
    const view = desk.view(parent.value)
    const choice = choices.find((c) => c.relation === relation.value)
    if (!view || !choice) return
    ghost.value = { at: aligned(view.position, relation.value, pointer.value), scale: desk.scaleOf(view), geometry: null, label: PLACES[relation.value] }
    const wanted = relation.value
    void fillGhost(choice.orientation, () => tool.value === 'projected' && relation.value === wanted && parent.value === view.id)
  }

  // ---- sizes -------------------------------------------------------------------------------------------------------
  function picked(s: Spot): Picked {
    const g = desk.hitOf(s.view)!.geometry
    const c = g.curves[s.curve]
    return { instance: g.instances[c.instance], source: c.source, role: c.role, at: s.at }
  }

  /** Ask the server for the size as it would be placed here; one question under way at a time, the latest pointer wins. */
  async function ask(): Promise<void> {
    if (asking) {
      askAgain = true
      return
    }
    asking = true
    try {
      do {
        askAgain = false
        await askOnce()
      } while (askAgain && tool.value === 'size' && picks.value.length)
    } finally {
      asking = false
    }
  }

  async function askOnce(): Promise<void> {
    const other = second()
    const now = other ? [...picks.value, other] : picks.value
    if (!now.length) return
    const answer = await question(now)
    if (typeof answer !== 'string') {
      if (tool.value === 'size' && picks.value.length) preview.value = answer
      return
    }
    if (now.length > picks.value.length) {
      const alone = await question(picks.value)
      if (typeof alone !== 'string') {
        preview.value = alone
        return
      }
    }
    preview.value = null
    refusal.value = answer
  }

  async function question(spots: Spot[]): Promise<Preview | string> {
    const body = { view: spots[0].view, picks: spots.map(picked), pointer: pointer.value, direction: wish.value }
    try {
      return await data(api.POST('/api/drawings/{drawing_id}/preview', { params: { path: { drawing_id: desk.drawing!.id } }, body }))
    } catch (error) {
      return (error as Error).message
    }
  }

  /** Another curve of the same view under the pointer while one is picked. */
  function second(): Spot | null {
    const s = spot.value
    const first = picks.value[0]
    return picks.value.length === 1 && s && s.view === first.view && s.curve !== first.curve ? s : null
  }

  async function placeSize() {
    if (!preview.value && picks.value.length) await ask()
    if (!preview.value) return
    const annotation = preview.value.annotation
    const kept = { picks: picks.value, preview: preview.value }
    picks.value = []
    preview.value = null
    wish.value = 'aligned'
    if (!(await desk.edit({ command: 'place_annotation', annotation })) && tool.value === 'size') {
      picks.value = kept.picks
      preview.value = kept.preview
    }
  }

  // ---- pointer and keys --------------------------------------------------------------------------------------------
  function move(at: XY, under: Spot | null) {
    pointer.value = at
    const same = under?.view === spot.value?.view && under?.curve === spot.value?.curve
    if (!same && tool.value === 'size') refusal.value = '' // it was about what was under the pointer before
    spot.value = under
    if (tool.value === 'main' && ghost.value) ghost.value = { ...ghost.value, at }
    if (tool.value === 'projected' && parent.value) {
      const view = desk.view(parent.value)
      if (!view) return stop()
      const next = relationOf(at.x - view.position.x, at.y - view.position.y)
      if (next !== relation.value || !ghost.value) {
        relation.value = next
        showProjected()
      } else ghost.value = { ...ghost.value, at: aligned(view.position, next, at) }
    }
    if (tool.value === 'size' && picks.value.length) void ask()
  }

  /** A click on the sheet with a tool in hand; over is the view whose outline the pointer is in. */
  async function click(over: string | null) {
    if (tool.value === 'main') {
      const d = DIRECTIONS[direction.value]
      const command = { command: 'place_main_view', sheet: desk.sheet!.id, orientation: d.orientation, position: pointer.value, pictorial: d.pictorial } as const
      ghost.value = null
      if (await desk.edit(command)) start(d.pictorial ? 'select' : 'projected')
    } else if (tool.value === 'projected') {
      if (!parent.value) {
        if (over) await projectFrom(over)
      } else if (ghost.value) {
        const command = { command: 'place_projected_view', parent: parent.value, relation: relation.value, position: ghost.value.at } as const
        ghost.value = null
        await desk.edit(command)
        if (tool.value === 'projected') showProjected()
      }
    } else if (tool.value === 'size') {
      const s = spot.value
      if (!picks.value.length) {
        if (!s) return
        picks.value = [s]
        refusal.value = ''
        await ask()
        return
      }
      const other = second() // the pointer goes on while the server answers
      if (!other) return placeSize()
      const both = [...picks.value, other]
      const answer = await question(both)
      if (typeof answer === 'string') refusal.value = answer
      else {
        picks.value = both
        preview.value = answer
        void ask()
      }
    }
  }

  function space() {
    if (tool.value === 'main') {
      direction.value = (direction.value + 1) % DIRECTIONS.length
      void showMain()
    } else if (tool.value === 'size' && preview.value) {
      const options = preview.value.directions
      const now = preview.value.annotation.kind === 'linear' ? (preview.value.annotation.direction ?? 'aligned') : 'aligned'
      if (options.length > 1) {
        wish.value = options[(options.indexOf(now) + 1) % options.length] as typeof wish.value
        void ask()
      }
    }
  }

  function enter() {
    if (tool.value === 'size') void placeSize()
    else void click(null)
  }

  function chooseDirection(index: number) {
    direction.value = index
    if (tool.value === 'main') void showMain()
    else start('main')
  }

  return { tool, pointer, spot, ghost, preview, picks, prompt, refusal, direction, parent, start, stop, back, move, click, space, enter, chooseDirection }
})
