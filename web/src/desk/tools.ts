// The tools of the desk: each says what it wants next, shows what it would do, and stays until Esc.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, type Picked, type Preview } from '@/api/client'
import type { XY } from './places'
import { CENTER_TOOLS, useCenterTools, type CenterTool } from './centerTools'
import { useDesk } from './store'
import { useViewTools, VIEW_TOOLS, type Spot, type ViewTool } from './viewTools'

export type ToolName = 'select' | 'size' | ViewTool | CenterTool
export type { Ghost, Spot } from './viewTools'
export const useTools = defineStore('tools', () => {
  const desk = useDesk()
  const tool = ref<ToolName>('select')
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const preview = shallowRef<Preview | null>(null)
  const refused = ref('')
  const views = useViewTools()
  const centers = useCenterTools()
  const refusal = computed(() => refused.value || views.refusal || centers.refusal)
  const isCenter = (name: ToolName): name is CenterTool => (CENTER_TOOLS as string[]).includes(name)
  const isView = (name: ToolName): name is ViewTool => (VIEW_TOOLS as string[]).includes(name)
  watch(
    () => views.tool,
    (now) => {
      // a view tool may hand over to another when its work is done
      if (now) tool.value = now
      else if (isView(tool.value)) tool.value = 'select'
    },
    { flush: 'sync' },
  )

  const picks = ref<Spot[]>([])
  const wish = ref<'aligned' | 'horizontal' | 'vertical'>('aligned')
  let asking = false
  let askAgain = false

  const prompt = computed(() => {
    if (isView(tool.value)) return views.prompt
    if (isCenter(tool.value)) return centers.prompt
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
    refused.value = ''
    if (isView(name)) views.start(name)
    if (isCenter(name)) centers.start(name)
    if (name === 'size') {
      const curves = desk.selected.flatMap((s) => (s.kind === 'curve' ? [s] : []))
      picks.value = curves.slice(0, 2).map((s) => ({ view: s.view, curve: s.curve, at: { x: 0, y: 0 } }))
      if (picks.value.length) void ask()
    }
    desk.selected = []
  }

  function stop() {
    views.reset()
    centers.reset()
    tool.value = 'select'
    preview.value = null
    picks.value = []
    wish.value = 'aligned'
    refused.value = ''
  }

  /** One step back: the last pick, then the tool, then the selection. */
  function back() {
    refused.value = ''
    if (tool.value === 'size' && picks.value.length) {
      picks.value = picks.value.slice(0, -1)
      preview.value = null
      if (picks.value.length) void ask()
    } else if ((isView(tool.value) && views.back()) || (isCenter(tool.value) && centers.back())) {
      return
    } else if (tool.value !== 'select') stop()
    else desk.selected = []
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
    refused.value = answer
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
  function move(at: XY, under: Spot | null, over: string | null = null) {
    pointer.value = at
    const same = under?.view === spot.value?.view && under?.curve === spot.value?.curve
    if (!same && tool.value === 'size') refused.value = '' // it was about what was under the pointer before
    spot.value = under
    if (isView(tool.value)) views.move(at, under, over)
    if (isCenter(tool.value)) void centers.move(under, over)
    if (tool.value === 'size' && picks.value.length) void ask()
  }

  /** A click on the sheet with a tool in hand; over is the view whose outline the pointer is in. */
  async function click(over: string | null, more = false) {
    if (isCenter(tool.value)) {
      await centers.click(spot.value, over, more)
    } else if (isView(tool.value)) {
      await views.click(pointer.value, spot.value, over)
    } else if (tool.value === 'size') {
      const s = spot.value
      if (!picks.value.length) {
        if (!s) return
        picks.value = [s]
        refused.value = ''
        await ask()
        return
      }
      const other = second() // the pointer goes on while the server answers
      if (!other) return placeSize()
      const both = [...picks.value, other]
      const answer = await question(both)
      if (typeof answer === 'string') refused.value = answer
      else {
        picks.value = both
        preview.value = answer
        void ask()
      }
    }
  }

  function space() {
    if (isCenter(tool.value)) {
      centers.space()
    } else if (isView(tool.value)) {
      views.space()
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
    else if (isCenter(tool.value)) void centers.enter()
    else if (isView(tool.value)) void views.enter()
  }

  return { tool, pointer, spot, preview, picks, prompt, refusal, start, stop, back, move, click, space, enter }
})
