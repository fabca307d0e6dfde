// The tools of the Centers stage: marks on circles, center lines, bolt circles; each shows what a click would place.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Center, type Picked, type Schemas } from '@/api/client'
import { useDesk } from './store'
import type { Spot } from './viewTools'

export type CenterTool = 'mark' | 'line' | 'bolts' | 'axis'
export const CENTER_TOOLS: CenterTool[] = ['mark', 'line', 'bolts', 'axis']
const KINDS: Record<CenterTool, Schemas['CenterRequest']['kind']> = { mark: 'center_mark', line: 'center_line', bolts: 'bolt_circle', axis: 'center_line' }

export const useCenterTools = defineStore('centerTools', () => {
  const desk = useDesk()
  const tool = ref<CenterTool | null>(null)
  const picks = ref<Spot[]>([])
  const preview = shallowRef<{ view: string; center: Center; svg: string } | null>(null)
  const refusal = ref('')
  const axis = ref<'vertical' | 'horizontal'>('vertical')
  const reach = ref(2)
  /** Smallest diameter, model mm, that "Center everything" marks. */
  const least = ref(0)
  let asked = 0

  const prompt = computed(() => {
    const leave: [string, string] = ['Esc', picks.value.length ? 'pick again' : 'leave']
    switch (tool.value) {
      case 'mark':
        return picks.value.length
          ? { say: `${picks.value.length} circles: pick more to join them in rows.`, keys: [['Enter', 'place'], leave] }
          : { say: 'Click a circle or an arc; with Shift pick several to join them.', keys: [leave] }
      case 'line':
        return picks.value.length
          ? { say: 'Pick the second: a parallel edge, or another point.', keys: [leave] }
          : { say: 'Click the outline of a cylinder for its axis, or the first of two parallel edges, ends or circles.', keys: [leave] }
      case 'bolts': {
        const more = 3 - picks.value.length
        return more > 0
          ? { say: `Pick ${more === 3 ? 'three holes or more' : more === 2 ? 'two holes more' : 'one hole more'} on the circle.`, keys: [leave] }
          : { say: `${picks.value.length} holes: pick more, or place the circle.`, keys: [['Enter', 'place'], leave] }
      }
      case 'axis':
        return { say: `Click a view for its ${axis.value} symmetry axis.`, keys: [['Space', 'other direction'], leave] }
    }
    return null
  })

  function start(name: CenterTool) {
    reset()
    tool.value = name
  }
  function reset() {
    tool.value = null
    picks.value = []
    preview.value = null
    refusal.value = ''
  }
  /** One step back; whether there was one. */
  function back(): boolean {
    refusal.value = ''
    if (!picks.value.length) return false
    picks.value = []
    preview.value = null
    return true
  }

  function picked(s: Spot): Picked {
    const g = desk.hitOf(s.view)!.geometry
    const c = g.curves[s.curve]
    return { instance: g.instances[c.instance], source: c.source, role: c.role, at: s.at }
  }
  async function ask(view: string, spots: Spot[]): Promise<{ view: string; center: Center; svg: string } | string> {
    const v = desk.view(view)
    const body = { view, kind: KINDS[tool.value!], picks: spots.map(picked), reach: reach.value / (v ? desk.scaleOf(v) : 1), axis: tool.value === 'axis' ? axis.value : ('' as const) }
    try {
      const answer = await data(api.POST('/api/drawings/{drawing_id}/center', { params: { path: { drawing_id: desk.drawing!.id } }, body }))
      return { view, center: answer.center as Center, svg: answer.svg }
    } catch (error) {
      return (error as Error).message
    }
  }
  const same = (a: Spot, b: Spot) => a.view === b.view && a.curve === b.curve
  const isOutline = (s: Spot) => desk.hitOf(s.view)?.geometry.curves[s.curve]?.role !== 'edge'

  /** What a click here would place. */
  async function move(under: Spot | null, over: string | null) {
    const mine = ++asked
    let spots: Spot[] = []
    let view = over
    if (tool.value === 'axis') spots = []
    else if (under && (!picks.value.length || picks.value[0].view === under.view)) {
      spots = picks.value.some((p) => same(p, under)) ? picks.value : [...picks.value, under]
      view = under.view
    } else spots = picks.value
    if (spots.length) view = spots[0].view
    const enough = { mark: 1, line: 1, bolts: 3, axis: 0 }[tool.value!]
    if (!view || spots.length < enough || (tool.value === 'line' && spots.length === 1 && !isOutline(spots[0]))) {
      preview.value = null
      return
    }
    const answer = await ask(view, spots)
    if (mine !== asked || !tool.value) return
    preview.value = typeof answer === 'string' ? null : answer
    refusal.value = ''
  }

  async function place(view: string, spots: Spot[]) {
    const answer = await ask(view, spots)
    if (typeof answer === 'string') {
      refusal.value = answer
      return
    }
    asked++
    preview.value = null
    if (await desk.edit({ command: 'place_centers', centers: [answer.center] })) picks.value = []
  }

  async function click(under: Spot | null, over: string | null, more: boolean) {
    refusal.value = ''
    if (tool.value === 'axis') {
      if (over) await place(over, [])
      else refusal.value = 'Click in a view; the axis runs through its middle.'
      return
    }
    if (!under) {
      if (tool.value === 'mark' && picks.value.length) await enter()
      return
    }
    if (picks.value.length && picks.value[0].view !== under.view) {
      refusal.value = 'All picks of one center are in the same view.'
      return
    }
    if (picks.value.some((p) => same(p, under))) return
    const now = [...picks.value, under]
    if (tool.value === 'mark' && !more && now.length === 1) return place(under.view, now)
    if (tool.value === 'line' && (now.length === 2 || isOutline(under))) {
      await place(under.view, now)
      if (refusal.value && now.length === 2) picks.value = picks.value.slice(0, 1)
      return
    }
    picks.value = now
    await move(null, null)
  }
  async function enter() {
    if (picks.value.length && tool.value !== 'line') await place(picks.value[0].view, picks.value)
  }
  function space() {
    if (tool.value === 'axis') axis.value = axis.value === 'vertical' ? 'horizontal' : 'vertical'
  }

  /** Everything that the selected views lack (all of the sheet, if none is selected), each view's in one step. */
  async function everything() {
    const chosen = desk.selected.flatMap((s) => (s.kind === 'view' ? [s.id] : []))
    const views = (desk.sheet?.views ?? []).filter((v) => (chosen.length ? chosen.includes(v.id) : v.kind !== 'pictorial' && v.kind !== 'detail'))
    try {
      const found = await Promise.all(
        views.map((v) => data(api.GET('/api/drawings/{drawing_id}/views/{view_id}/lacking', { params: { path: { drawing_id: desk.drawing!.id, view_id: v.id }, query: { least: least.value } } }))),
      )
      const centers = found.flatMap((f) => f.centers) as Center[]
      if (centers.length) await desk.edit({ command: 'place_centers', centers })
      else desk.said = 'Every circle and axis has its center already'
    } catch (error) {
      desk.fail(error)
    }
  }

  return { tool, picks, preview, refusal, prompt, axis, reach, least, start, reset, back, move, click, enter, space, everything }
})
