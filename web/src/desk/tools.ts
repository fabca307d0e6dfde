// The tools of the desk: each says what it wants next, shows what it would do, and stays until Esc.
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import type { XY } from './places'
import { CENTER_TOOLS, useCenterTools, type CenterTool } from './centerTools'
import { PART_TOOLS, usePartTools, type PartTool } from './partTools'
import { SIZE_TOOLS, useSizeTools, type RunTool, type SizeTool } from './sizeTools'
import { useDesk } from './store'
import { useViewTools, VIEW_TOOLS, type Spot, type ViewTool } from './viewTools'

export type ToolName = 'select' | SizeTool | ViewTool | CenterTool | PartTool
export type { Ghost, Spot } from './viewTools'
export const useTools = defineStore('tools', () => {
  const desk = useDesk()
  const tool = ref<ToolName>('select')
  const pointer = ref<XY>({ x: 0, y: 0 })
  const spot = ref<Spot | null>(null)
  const views = useViewTools()
  const centers = useCenterTools()
  const sizes = useSizeTools()
  const parts = usePartTools()
  const refusal = computed(() => sizes.refusal || views.refusal || centers.refusal || parts.refusal)
  const isCenter = (name: ToolName): name is CenterTool => (CENTER_TOOLS as string[]).includes(name)
  const isPart = (name: ToolName): name is PartTool => (PART_TOOLS as string[]).includes(name)
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

  const isSizing = (name: ToolName): name is SizeTool => (SIZE_TOOLS as string[]).includes(name)
  const picks = computed(() => sizes.picks)
  const preview = computed(() => sizes.preview)
  const prompt = computed(() => (isView(tool.value) ? views.prompt : isCenter(tool.value) ? centers.prompt : isSizing(tool.value) ? sizes.prompt : isPart(tool.value) ? parts.prompt : null))

  function start(name: ToolName) {
    views.reset()
    centers.reset()
    parts.reset()
    tool.value = name
    if (isSizing(name)) sizes.start(name)
    else sizes.reset()
    if (isView(name)) views.start(name)
    if (isCenter(name)) centers.start(name)
    if (isPart(name)) parts.start(name)
    desk.selected = []
  }

  /** More members are picked for a run. */
  function grow(run: string, form: RunTool) {
    stop()
    tool.value = form
    sizes.grow(run, form)
  }

  function stop() {
    views.reset()
    centers.reset()
    sizes.reset()
    parts.reset()
    tool.value = 'select'
  }

  /** One step back: the last pick, then the tool, then the selection. */
  function back() {
    if ((isSizing(tool.value) && sizes.back()) || (isView(tool.value) && views.back()) || (isCenter(tool.value) && centers.back()) || (isPart(tool.value) && parts.back())) return
    if (tool.value !== 'select') stop()
    else desk.selected = []
  }

  // ---- pointer and keys --------------------------------------------------------------------------------------------
  function move(at: XY, under: Spot | null, over: string | null = null) {
    pointer.value = at
    spot.value = under
    if (isView(tool.value)) views.move(at, under, over)
    if (isCenter(tool.value)) void centers.move(under, over)
    if (isSizing(tool.value)) sizes.move(at, under)
    if (isPart(tool.value)) parts.move(at, over)
  }

  /** A click on the sheet with a tool in hand; over is the view whose outline the pointer is in, annotation what lies under it. */
  async function click(over: string | null, more = false, annotation = '') {
    if (isCenter(tool.value)) await centers.click(spot.value, over, more)
    else if (isView(tool.value)) await views.click(pointer.value, spot.value, over)
    else if (isSizing(tool.value)) await sizes.click(annotation)
    else if (isPart(tool.value)) await parts.click()
  }

  function space() {
    if (isCenter(tool.value)) centers.space()
    else if (isView(tool.value)) views.space()
    else sizes.space()
  }

  function enter() {
    if (isSizing(tool.value)) sizes.enter()
    else if (isCenter(tool.value)) void centers.enter()
    else if (isView(tool.value)) void views.enter()
    else if (isPart(tool.value)) void parts.click()
  }

  return { tool, pointer, spot, preview, picks, prompt, refusal, start, grow, stop, back, move, click, space, enter }
})
