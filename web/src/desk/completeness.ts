// What a drawing of a part does not say, and what it says twice: asked for after every edit, lit on the views while checking.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import { boxOf, pathOf } from './curves'
import { isShown } from './hit'
import { latest } from './latest'
import { useDesk } from './store'

type Answer = Schemas['CompletenessOut']
/** mm of paper by which a feature sways. */
export const SWAY = 2
/** ms until a worker that is at it is asked again. */
const AGAIN = 500
/** Of a direction on paper that is seen too steeply to point along. */
const STEEP = 0.3

/** What is lit of a gap in a view: its outline, where its arrow stands, and the direction on paper, y down; none of what grows. */
export interface Lit {
  gap: number
  view: string
  path: string
  at: { x: number; y: number }
  reach: number
  way: { x: number; y: number } | null
}

export const useCompleteness = defineStore('completeness', () => {
  const desk = useDesk()
  const answer = shallowRef<Answer>()
  /** Why it could not be asked; the next edit asks again. */
  const problem = ref('')
  /** The gap that is pointed at, by its place in the list; -1 for none. */
  const pointed = ref(-1)
  /** Whether what is missing is lit on the views. */
  const lighting = ref(false)
  const open = computed(() => (answer.value?.gaps.length ?? 0) + (answer.value?.twice.length ?? 0) + (answer.value?.silent.length ?? 0))
  /** Whether the worker that tells of a large part was stopped; an edit or asking again starts one anew. */
  const stopped = ref(false)
  const working = computed(() => (answer.value?.state === 'working' ? answer.value.job : null))
  const asking = latest(async () => {
    const id = desk.drawing?.id
    if (!id || desk.drawing?.model_kind !== 'part' || stopped.value) return
    let why = ''
    const found = await data(api.GET('/api/drawings/{drawing_id}/completeness', { params: { path: { drawing_id: id } } })).catch((error: Error) => void (why = error.message))
    if (id !== desk.drawing?.id) return
    answer.value = found || undefined
    problem.value = why
    if (pointed.value >= (answer.value?.gaps.length ?? 0)) pointed.value = -1
    if (working.value) setTimeout(() => id === desk.drawing?.id && working.value && void asking.run(), AGAIN)
  })
  /** Stop the worker. */
  async function stop() {
    const job = working.value
    stopped.value = true
    answer.value = undefined
    if (job) await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } })
  }
  function again() {
    stopped.value = false
    void asking.run()
  }
  watch(
    () => [desk.drawing?.id, desk.drawing?.version, desk.drawing?.model_kind] as const,
    (now, before) => {
      if (now[0] !== before?.[0]) {
        answer.value = undefined
        pointed.value = -1
      }
      stopped.value = false
      void asking.run()
    },
    { immediate: true },
  )

  const lit = computed<Lit[]>(() => {
    const gaps = answer.value?.gaps ?? []
    return (desk.sheet?.views ?? []).flatMap((v) => {
      const index = desk.hitOf(v.id)
      if (!index || v.kind === 'pictorial') return []
      const scale = desk.scaleOf(v)
      return gaps.flatMap((g, n) => g.lit.flatMap((names) => {
        const sources = new Set(names)
        const mine = index.geometry.curves.filter((c) => index.geometry.instances[c.instance] === g.instance && sources.has(c.source) && isShown(c, { hidden: true, tangent: false }))
        if (!mine.length) return []
        const box = boxOf(mine, scale)
        const [x, y] = g.ways[v.id] ?? [0, 0]
        const long = Math.hypot(x, y)
        if (g.ways[v.id] && long < STEEP) return []
        return [{
          gap: n, view: v.id, path: pathOf(mine, scale), at: { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 },
          reach: Math.max(box.x1 - box.x0, box.y1 - box.y0) / 2, way: long ? { x: x / long, y: -y / long } : null,
        }]
      }))
    })
  })
  /** The gap that something of the model is lit for in a view, the one of the fewest things; -1 for none. */
  function gapAt(view: string, instance: string, source: string): number {
    const shown = new Set(lit.value.filter((l) => l.view === view).map((l) => l.gap))
    let best = -1
    let least = Infinity
    answer.value?.gaps.forEach((g, n) => {
      const mine = g.instance === instance && shown.has(n) ? g.lit.find((names) => names.includes(source)) : undefined
      if (mine && mine.length < least) [best, least] = [n, mine.length]
    })
    return best
  }
  return { answer, problem, working, stopped, stop, again, pointed, gapAt, lighting, open, lit, settled: asking.settled }
})
