// The red pencil: findings drawn on the sheet with their threads, ticks on what was looked at, and who else is on the drawing.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import type { Prompt } from './kinds/kind'
import type { XY } from './places'
import type { Spot } from './spots'
import { useDesk } from './store'

export const PENCILS = ['pencil_cloud', 'pencil_arrow', 'pencil_words', 'tick'] as const
export type Pencil = (typeof PENCILS)[number]
type Page = Schemas['PencilPage']
export type Mark = Page['marks'][number]
const PLACES: Record<string, number> = { pencil_cloud: 2, pencil_arrow: 2, pencil_words: 1 }
const SAYS: Record<Pencil, string[]> = {
  pencil_cloud: ['Click one corner of what you find.', 'Click the opposite corner.'],
  pencil_arrow: ['Click where the words go.', 'Click what you point at.'],
  pencil_words: ['Click where the words go.'],
  tick: ['Click a size or a note that is right; again to take its tick back.'],
}
/** ms until a desk that could not listen tries again. */
const AGAIN = 10_000
interface Other {
  name: string
  sheet: string
  selected: string[]
  seen: number
}

export const usePencil = defineStore('pencil', () => {
  const desk = useDesk()
  const page = shallowRef<Page>()
  const tool = ref<Pencil | ''>('')
  const places = ref<XY[]>([])
  const anchor = ref('')
  const pointer = ref<XY>({ x: 0, y: 0 })
  const refusal = ref('')
  /** Number of the finding that is open in the particulars; 0 for none. */
  const chosen = ref(0)
  const others = ref(new Map<number, Other>())
  const mark = computed(() => page.value?.marks.find((m) => m.number === chosen.value))
  const open = computed(() => page.value?.marks.filter((m) => m.state !== 'closed') ?? [])
  const ticks = computed(() => new Map(page.value?.ticks.map((t) => [t.annotation, t])))
  const path = () => ({ drawing_id: desk.drawing!.id })

  async function load() {
    if (!desk.drawing) return
    page.value = await data(api.GET('/api/drawings/{drawing_id}/pencil', { params: { path: path() } })).catch(() => page.value)
  }
  watch(() => [desk.drawing?.id, desk.drawing?.version], ([id], [before]) => {
    if (id !== before) {
      page.value = undefined
      chosen.value = 0
      others.value = new Map()
    }
    if (id) void load()
  })

  watch(() => desk.selected.length, (count) => count && (chosen.value = 0))

  const prompt = computed<Prompt | null>(() => (tool.value ? { say: SAYS[tool.value][Math.min(places.value.length, SAYS[tool.value].length - 1)], keys: [['Esc', places.value.length ? 'begin again' : 'leave']] } : null))
  function start(name: Pencil) {
    reset()
    tool.value = name
    chosen.value = 0
  }
  function reset() {
    tool.value = ''
    places.value = []
    refusal.value = ''
  }
  function back(): boolean {
    refusal.value = ''
    if (!places.value.length) return false
    places.value = []
    return true
  }
  function move(at: XY, _under: Spot | null, over: string | null) {
    pointer.value = at
    if (!places.value.length) anchor.value = over ?? ''
  }
  async function keep(work: () => Promise<Page>): Promise<boolean> {
    refusal.value = ''
    try {
      page.value = await work()
      return true
    } catch (error) {
      refusal.value = (error as Error).message
      return false
    }
  }
  /** Where marks of an anchor begin, sheet mm. */
  function origin(of: string): XY {
    const v = desk.view(of)
    return v ? v.position : { x: 0, y: 0 }
  }
  /** Paper mm for one of the view's own. */
  function scale(of: string): number {
    const v = desk.view(of)
    return v ? desk.scaleOf(v) : 1
  }
  async function click(annotation: string): Promise<boolean> {
    if (!tool.value) return false
    if (tool.value === 'tick') {
      if (annotation) await tick(annotation)
      return false
    }
    places.value = [...places.value, pointer.value]
    if (places.value.length < PLACES[tool.value]) return false
    const from = origin(anchor.value)
    const k = scale(anchor.value)
    const body = { kind: tool.value.slice(7) as 'cloud', sheet: desk.sheet!.id, anchor: anchor.value, places: places.value.map((p) => [(p.x - from.x) / k, (p.y - from.y) / k]), text: '' }
    places.value = []
    const isDone = await keep(() => data(api.POST('/api/drawings/{drawing_id}/pencil/marks', { params: { path: path() }, body })))
    if (isDone) chosen.value = page.value?.marks.at(-1)?.number ?? 0
    return isDone
  }
  const tick = (annotation: string) =>
    keep(() => data(api.POST('/api/drawings/{drawing_id}/pencil/ticks', { params: { path: path() }, body: { annotation, on: !ticks.value.get(annotation)?.holds } })))
  const answer = (number: number, text: string, state: '' | 'open' | 'answered' | 'closed') =>
    keep(() => data(api.POST('/api/drawings/{drawing_id}/pencil/marks/{number}', { params: { path: { ...path(), number } }, body: { text, state } })))
  const rubOut = (number: number) => keep(() => data(api.DELETE('/api/drawings/{drawing_id}/pencil/marks/{number}', { params: { path: { ...path(), number } } })))

  /** On to the next finding that is not closed, whatever sheet it is on. */
  async function next() {
    const all = open.value
    if (!all.length) return desk.fail(new Error('No finding is open.'))
    const now = all.find((m) => m.number > chosen.value) ?? all[0]
    if (now.sheet !== desk.sheet?.id) await desk.showSheet(now.sheet)
    desk.selected = []
    chosen.value = now.number
  }

  // ---- others ------------------------------------------------------------------------------------------------------
  let source: EventSource | undefined
  let told = 0
  let later = 0
  let listener = 0
  function listen(me: number) {
    hangUp()
    listener = me
    if (!desk.drawing || document.hidden) return
    source = new EventSource(`/api/drawings/${desk.drawing.id}/events`)
    source.onerror = () => {
      if (source?.readyState === EventSource.CLOSED) later = window.setTimeout(lookAnew, AGAIN)
    }
    source.onmessage = (message) => {
      const e = JSON.parse(message.data as string) as { what: string; user?: number; by?: string; version?: number; sheet?: string; selected?: string[] }
      if (e.what === 'changed' && (e.version === undefined || e.version > (desk.drawing?.version ?? 0)) && e.user !== me) void desk.again().catch(() => {})
      if (e.what === 'pencil' && e.user !== me) void load()
      if (!e.user || e.user === me) return
      const now = new Map(others.value)
      if (e.what === 'left') now.delete(e.user)
      else now.set(e.user, { name: e.by ?? '', sheet: e.sheet ?? now.get(e.user)?.sheet ?? '', selected: e.selected ?? now.get(e.user)?.selected ?? [], seen: Date.now() })
      if (e.what === 'here' && !others.value.has(e.user)) tell()
      others.value = now
    }
  }
  /** Tell the others where one is. */
  function tell() {
    window.clearTimeout(told)
    told = window.setTimeout(() => {
      if (!desk.drawing) return
      const selected = desk.selected.flatMap((s) => ('id' in s ? [s.id] : [])).slice(0, 20)
      void api.POST('/api/drawings/{drawing_id}/pencil/here', { params: { path: path() }, body: { sheet: desk.sheet?.id ?? '', selected } })
    }, 300)
  }
  function hangUp() {
    source?.close()
    source = undefined
    window.clearTimeout(later)
  }
  /** A desk that was not told anything for a while asks, and listens again. */
  async function lookAnew() {
    if (!desk.drawing) return
    await desk.again().catch(() => {})
    void load()
    listen(listener)
  }
  document.addEventListener('visibilitychange', () => {
    if (document.hidden) hangUp()
    else if (listener) void lookAnew()
  })
  watch(() => [desk.selected, desk.sheetId], tell, { deep: true })

  return { page, tool, places, anchor, pointer, refusal, chosen, mark, open, ticks, others, prompt, load, start, reset, back, move, click, tick, answer, rubOut, next, origin, scale, listen, tell, hangUp }
})
