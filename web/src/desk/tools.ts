// The tools of the desk: each says what it wants next, shows what it would do, and stays until Esc.
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { HANG_AGAIN, useHangAgain } from './hangAgain'
import { PICK_TOOLS } from './kinds'
import type { Prompt, Settings } from './kinds/kind'
import { PENCILS, usePencil, type Pencil } from './pencil'
import { usePickTool } from './pickTool'
import type { XY } from './places'
import { SIZE_TOOLS, useSizeTools, type RunTool, type SizeTool } from './sizeTools'
import type { Spot } from './spots'
import { useDesk } from './store'
import { VIEW_TOOLS, type ViewTool } from './views/state'
import { useViewTools } from './viewTools'
import { useWriting } from './writing'

export type { Spot } from './spots'
/** "select", a view tool, a size tool, or a tool of a kind. */
export type ToolName = string

/** What every set of tools answers to. */
interface Tools {
  has: (name: string) => boolean
  start: (name: string) => void
  reset: () => void
  back: () => boolean
  move: (at: XY, under: Spot | null, over: string | null) => void
  click: (over: string | null, more: boolean, annotation: string) => unknown
  space: () => void
  enter: () => unknown
  prompt: () => Prompt | null
}

export const useTools = defineStore('tools', () => {
  const desk = useDesk()
  const tool = ref<ToolName>('select')
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const views = useViewTools()
  const sizes = useSizeTools()
  const pick = usePickTool()
  const again = useHangAgain()
  const pencil = usePencil()
  const refusal = computed(() => sizes.refusal || views.refusal || pick.refusal || again.refusal || pencil.refusal)
  const sets: Tools[] = [
    {
      has: (name) => (VIEW_TOOLS as readonly string[]).includes(name), start: (name) => views.start(name as ViewTool), reset: views.reset, back: views.back, move: views.move,
      click: (over) => views.click(pointer.value, spot.value, over), space: views.space, enter: views.enter, prompt: () => views.prompt,
    },
    {
      has: (name) => (SIZE_TOOLS as string[]).includes(name), start: (name) => sizes.start(name as SizeTool), reset: sizes.reset, back: sizes.back, move: sizes.move,
      click: (_over, _more, annotation) => sizes.click(annotation), space: sizes.space, enter: sizes.enter, prompt: () => sizes.prompt,
    },
    {
      has: (name) => PICK_TOOLS.some((t) => t.tool === name), start: pick.start, reset: pick.reset, back: pick.back, move: pick.move,
      click: (_over, more, annotation) => pick.click(more, annotation), space: pick.space, enter: pick.enter, prompt: () => pick.prompt,
    },
    {
      has: (name) => name === HANG_AGAIN, start: again.start, reset: again.reset, back: () => false, move: again.move,
      click: async () => (await again.click()) && stop(), space: () => {}, enter: () => {}, prompt: () => again.prompt,
    },
    {
      has: (name) => (PENCILS as readonly string[]).includes(name), start: (name) => pencil.start(name as Pencil), reset: pencil.reset, back: pencil.back, move: pencil.move,
      click: async (_over, _more, annotation) => (await pencil.click(annotation)) && stop(), space: () => {}, enter: () => {}, prompt: () => pencil.prompt,
    },
  ]
  const inHand = () => sets.find((s) => s.has(tool.value))
  const writing = useWriting()
  const prompt = computed<Prompt | null>(() => (writing.id ? { say: 'Write the note.', keys: [['Ctrl+Enter', 'keep it'], ['Esc', writing.pending ? 'drop it' : 'leave it as it was']] } : (inHand()?.prompt() ?? null)))
  watch(
    () => views.tool,
    (now) => {
      // a view tool may hand over to another when its work is done
      if (now) tool.value = now
      else if (sets[0].has(tool.value)) tool.value = 'select'
    },
    { flush: 'sync' },
  )

  watch(
    () => pick.done,
    () => stop(),
    { flush: 'sync' },
  )
  function start(name: ToolName) {
    const mine = sets.find((s) => s.has(name))
    for (const s of sets) if (s !== mine) s.reset()
    tool.value = name
    mine?.start(name) // it may begin with what is selected
    desk.selected = []
  }

  /** A tool of a kind, with what it needs first; nothing where that is called off. */
  async function take(name: ToolName, more: Settings = {}) {
    const begin = PICK_TOOLS.find((t) => t.tool === name)?.begin
    const settings = begin ? await begin() : {}
    if (!settings) return
    start(name)
    pick.settings = { ...pick.settings, ...settings, ...more }
  }

  /** More members are picked for a run. */
  function grow(run: string, form: RunTool) {
    stop()
    tool.value = form
    sizes.grow(run, form)
  }

  function stop() {
    for (const s of sets) s.reset()
    tool.value = 'select'
  }

  /** One step back: the last pick, then the tool, then the selection. */
  function back() {
    if (inHand()?.back()) return
    if (tool.value !== 'select') stop()
    else desk.selected = []
  }

  // ---- pointer and keys --------------------------------------------------------------------------------------------
  function move(at: XY, under: Spot | null, over: string | null = null) {
    pointer.value = at
    spot.value = under
    inHand()?.move(at, under, over)
  }

  /** A click on the sheet with a tool in hand; over is the view whose outline the pointer is in, annotation what lies under it. */
  async function click(over: string | null, more = false, annotation = '') {
    await inHand()?.click(over, more, annotation)
  }
  const space = () => inHand()?.space()
  const enter = () => void inHand()?.enter()

  return { tool, pointer, spot, prompt, refusal, start, take, grow, stop, back, move, click, space, enter }
})
