// The one tool that all kinds are placed with: it picks what the kind's steps say, shows what would be made, and makes it.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, data, type Answer, type Schemas } from '@/api/client'
import { PICK_TOOLS } from './kinds'
import type { PickTool, Settings } from './kinds/kind'
import { latest } from './latest'
import type { XY } from './places'
import { picked, sameSpot, type Spot } from './spots'
import { useDesk } from './store'
import { useWriting } from './writing'

export const usePickTool = defineStore('pickTool', () => {
  const desk = useDesk()
  const tool = ref<string | null>(null)
  const steps = computed<PickTool | undefined>(() => PICK_TOOLS.find((t) => t.tool === tool.value))
  const picks = ref<Spot[]>([])
  const settings = ref<Settings>({})
  /** Where the leader ends, once that is clicked. */
  const tip = ref<{ view: string; at: XY } | null>(null)
  const preview = shallowRef<Answer | null>(null)
  const refusal = ref('')
  /** How near a pick takes an end of what it is on, sheet mm. */
  const reach = ref(2)
  /** Grows whenever a tool is to be laid down by itself. */
  const done = ref(0)
  let pointer: XY = { x: 0, y: 0 }
  let under: Spot | null = null
  let over: string | null = null

  const prompt = computed(() => steps.value?.say({ picks: picks.value, settings: settings.value, answer: preview.value, pointed: tip.value !== null }) ?? null)
  const isOutline = (s: Spot) => desk.hitOf(s.view)?.geometry.curves[s.curve]?.role !== 'edge'

  function start(name: string) {
    reset()
    tool.value = name
    settings.value = { ...steps.value?.settings }
  }
  function reset() {
    tool.value = null
    picks.value = []
    tip.value = null
    preview.value = null
    refusal.value = ''
  }
  /** One step back; whether there was one. */
  function back(): boolean {
    refusal.value = ''
    if (!picks.value.length && !tip.value) return false
    picks.value = []
    tip.value = null
    preview.value = null
    return true
  }

  function asked(view: string, spots: Spot[], at: XY): Schemas['Asked'] {
    const v = desk.view(view)
    return {
      tool: steps.value!.kind, view, sheet: desk.sheet!.id, picks: spots.map((s) => picked(s)), pointer: at, tip: tip.value?.at ?? null,
      reach: reach.value / (v ? desk.scaleOf(v) : 1), settings: settings.value,
    }
  }
  const ask = (body: Schemas['Asked']) => data(api.POST('/api/drawings/{drawing_id}/propose-annotation', { params: { path: { drawing_id: desk.drawing!.id } }, body })) as Promise<Answer>

  /** What would be placed with what is under the pointer; null where that is not enough. */
  function wanted(): Schemas['Asked'] | null {
    const s = steps.value
    if (!s) return null
    if (s.takes === 'place') return asked((s.inView && over) || '', [], pointer)
    if (s.takes === 'trail' && s.places?.(settings.value) === 1) return asked(here().view, [here()], pointer)
    if (s.takes === 'trail') return picks.value.length && !sameSpot(picks.value[picks.value.length - 1], here()) ? asked(picks.value[0].view, [...picks.value, here()], pointer) : null
    if (s.takes === 'view') return over ? asked(over, [], pointer) : null
    if (s.takes === 'tip') {
      const view = tip.value?.view ?? over
      return view ? asked(view, [], pointer) : null
    }
    if (s.takes === 'edge') {
      const only = picks.value[0] ?? under
      return only ? asked(only.view, [only], pointer) : null
    }
    const joins = under && (!picks.value.length || picks.value[0].view === under.view) && !picks.value.some((p) => sameSpot(p, under!))
    const spots = joins ? [...picks.value, under!] : picks.value
    if (!spots.length || s.enough?.(spots, true, isOutline) === 'no') return null
    return asked(spots[0].view, spots, pointer)
  }
  /** What is under the pointer, or its bare place: in the view of the first place, else in the one that is near, else on the sheet. */
  function here(): Spot {
    const first = picks.value[0]
    if (under && (!first || first.view === under.view)) return under
    const id = first ? first.view : (over ?? '')
    const v = desk.view(id)
    return { view: id, curve: -1, at: v ? desk.inView(v, pointer) : pointer }
  }
  const looking = latest(async () => {
    const body = wanted()
    if (!body) {
      preview.value = null
      return
    }
    try {
      const answer = await ask(body)
      if (tool.value) preview.value = answer
      refusal.value = ''
    } catch (error) {
      preview.value = null
      if (tip.value) refusal.value = (error as Error).message
    }
  })
  function move(at: XY, spot: Spot | null, view: string | null) {
    pointer = at
    under = spot
    over = view
    void looking.run()
  }

  /** Place what these picks make with the pointer here; whether it was done. */
  async function place(view: string, spots: Spot[]): Promise<boolean> {
    try {
      const answer = await ask(asked(view, spots, pointer))
      preview.value = null
      if (steps.value?.writes && !settings.value.like) {
        useWriting().begin(answer)
        picks.value = []
        tip.value = null
        return true
      }
      if (!(await desk.edit({ command: 'place', annotations: answer.annotations, sheet: desk.sheet!.id, known: steps.value?.replaces ? 'replace' : 'refuse' }))) return false
      picks.value = []
      tip.value = null
      const selects = steps.value?.selects
      if (steps.value?.once || selects) done.value++
      if (selects) desk.selected = answer.annotations.slice(-1).map((a) => ({ kind: 'annotation', id: a.id }))
      return true
    } catch (error) {
      refusal.value = (error as Error).message
      return false
    }
  }

  async function click(gathering: boolean, annotation = '') {
    const s = steps.value
    refusal.value = ''
    if (!s) return
    const other = tip.value && s.gathers ? desk.annotation(annotation) : undefined
    const more = other && s.gathers?.(other, settings.value)
    if (more) {
      settings.value = more
      return void looking.run()
    }
    if (s.takes === 'place') return void (await place((s.inView && over) || '', []))
    if (s.takes === 'view') {
      if (over) await place(over, [])
      else refusal.value = 'Click in a view; the axis runs through its middle.'
      return
    }
    if (s.takes === 'tip') return clickTip()
    if (s.takes === 'trail') return clickTrail(s)
    if (s.takes === 'edge') return clickEdge()
    if (!under) {
      if (picks.value.length && s.enough?.(picks.value, true, isOutline) === 'when said') await place(picks.value[0].view, picks.value)
      return
    }
    const spot = under
    if (picks.value.length && picks.value[0].view !== spot.view) {
      refusal.value = 'All picks of one center are in the same view.'
      return
    }
    if (picks.value.some((p) => sameSpot(p, spot))) return
    const now = [...picks.value, spot]
    if (s.enough?.(now, gathering, isOutline) === 'at once') {
      await place(spot.view, now)
      return
    }
    picks.value = now
    void looking.run()
  }
  async function clickEdge() {
    if (picks.value.length) return void (await place(picks.value[0].view, picks.value))
    if (!under) return
    const spot = under
    picks.value = [spot]
    try {
      preview.value = await ask(asked(spot.view, [spot], pointer))
    } catch (error) {
      picks.value = []
      refusal.value = (error as Error).message
    }
  }
  async function clickTrail(s: PickTool) {
    const spot = here()
    const first = picks.value[0]
    if (picks.value.length && sameSpot(picks.value[picks.value.length - 1], spot) && spot.curve >= 0) return
    const now = [...picks.value, spot]
    const wanted = s.places?.(settings.value) ?? 2
    const v = desk.view(spot.view)
    const closes = !wanted && now.length > 3 && Math.hypot(spot.at.x - first.at.x, spot.at.y - first.at.y) * (v ? desk.scaleOf(v) : 1) < reach.value
    if (now.length === wanted || closes) return void (await place(spot.view, now))
    picks.value = now
    void looking.run()
  }
  async function clickTip() {
    const first = tip.value
    const view = first?.view ?? over
    if (!view) {
      refusal.value = 'Point at a part in a view.'
      return
    }
    if (first) return void (await place(view, []))
    // what is clicked is what lies here now; the pointer goes on while the server answers
    tip.value = { view, at: pointer }
    try {
      preview.value = await ask(asked(view, [], pointer))
    } catch (error) {
      tip.value = null
      refusal.value = (error as Error).message
    }
  }
  async function enter() {
    const s = steps.value
    if (!s) return
    if (s.takes === 'trail' && !(s.places?.(settings.value) ?? 2)) return void (picks.value.length > 1 && (await place(picks.value[0].view, picks.value)))
    if (s.takes !== 'edges') return click(false)
    if (picks.value.length && s.enough?.(picks.value, true, isOutline) !== 'no') await place(picks.value[0].view, picks.value)
  }
  function space() {
    const next = steps.value?.space
    if (!next) return
    settings.value = next(settings.value, preview.value)
    void looking.run()
  }

  /** Ask again after the settings have changed. */
  const again = () => void looking.run()

  return { again, done, tool, steps, picks, settings, tip, preview, refusal, reach, prompt, start, reset, back, move, click, enter, space }
})
