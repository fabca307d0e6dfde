// Sizes listed to be brought to the sheet: the numbers that the model is made of, or a lean set that says what the drawing does not.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, ended, pause, Problem, type Annotation, type Command, type Schemas } from '@/api/client'
import { useDesk } from './store'

export type Row = Schemas['ModelSize']

interface Query {
  view: string
  feature: string[]
  source: string[]
  gap: string
}

export const useModelSizes = defineStore('modelSizes', () => {
  const desk = useDesk()
  const open = ref(false)
  /** Whether the list is of what is not said yet, not of the model's own numbers. */
  const lean = ref(false)
  const rows = shallowRef<Row[]>([])
  /** Ids of the sizes that are to be brought. */
  const chosen = ref<string[]>([])
  /** Id of the size that is pointed at in the list. */
  const pointed = ref('')
  const waiting = ref('')
  /** The job that is waited for. */
  const busy = ref('')
  /** Views that are wanting to say the rest. */
  const views = shallowRef<Schemas['WantedViewOut'][]>([])
  const why = ref('')
  const fitting = computed(() => rows.value.filter((r) => r.size))
  const left = computed(() => rows.value.filter((r) => !r.size))
  const ghosts = computed(() => fitting.value.filter((r) => chosen.value.includes(r.size!.id) || r.size!.id === pointed.value))
  /** How lengths stand, and what they are measured from: picked edges, each with its view. */
  const form = ref<'baseline' | 'chain' | 'ordinate'>('baseline')
  const datums = ref<string[]>([])
  /** Whether holes are called out or stand in tables. */
  const holes = ref<'called' | 'table'>('called')
  /** The ghost that is being taken to another view, and how far it has come, sheet mm. */
  const carried = ref<{ id: string; x: number; y: number } | null>(null)
  let asking: Query = { view: '', feature: [], source: [], gap: '' }
  let turn = 0

  /** The views and the features of what is selected: the list is of them. */
  function asked() {
    const view = desk.selected.find((s) => s.kind === 'view')
    const source = desk.selected.flatMap((s) => (s.kind === 'curve' ? [desk.hitOf(s.view)?.geometry?.curves[s.curve]?.source ?? ''] : [])).filter(Boolean)
    const feature = desk.selected.flatMap((s) => (s.kind === 'curve' ? (desk.hitOf(s.view)?.geometry?.curves[s.curve]?.source ?? '').split('|').map((n) => n.split('/')[0]) : []))
    return { view: view && 'id' in view ? view.id : '', feature: [...new Set(feature)], source }
  }
  /** gap: the sentence of what is not given that the sizes are to give; nothing for all that can be given. */
  async function start(isLean = false, gap = '') {
    asking = { ...asked(), gap }
    if (gap) asking.view = ''
    form.value = 'baseline'
    holes.value = 'called'
    datums.value = []
    lean.value = isLean
    await look()
  }
  async function look() {
    const query = asking
    const isLean = lean.value
    desk.selected = []
    open.value = true
    rows.value = []
    chosen.value = []
    why.value = ''
    waiting.value = isLean ? 'Looking for what is not said …' : 'Looking at the model …'
    const mine = ++turn
    abandon()
    let gone = 0
    try {
      for (;;) {
        const answer = await ask(query)
        if (mine !== turn) return
        if (answer.job) {
          busy.value = answer.job.id
          const job = await ended(answer.job, (now) => {
            if (mine !== turn) return
            waiting.value = isLean ? `This part is large: a worker is ${now.text || 'waiting its turn'} (${Math.round(100 * now.progress)} %) …` : 'Changing one number of the recipe after another, to see what each decides …'
          }).catch((error: Error) => {
            // what it was about has changed since: ask anew
            if (error instanceof Problem && error.status === 404 && ++gone < 20) return null
            throw error
          })
          if (mine !== turn) return
          busy.value = ''
          if (!job) continue
          if (job.state === 'failed') throw new Problem(job.text, 422)
          continue
        }
        rows.value = answer.rows
        views.value = answer.views ?? []
        chosen.value = fitting.value.map((r) => r.size!.id)
        why.value = answer.why || (answer.rows.length ? '' : isLean ? 'These views can say nothing more of the part.' : 'There is nothing to bring here.')
        break
      }
    } catch (error) {
      if (mine === turn) why.value = (error as Error).message
    } finally {
      if (mine === turn) waiting.value = ''
    }
  }
  /** Leave the job that is waited for, whose answer nobody wants any more. */
  function abandon() {
    const job = busy.value
    busy.value = ''
    if (job) void api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job } } })
  }
  function stop() {
    turn++
    waiting.value = ''
    why.value = lean.value ? 'Stopped; nothing is proposed.' : 'Stopped; nothing is listed.'
    abandon()
  }
  async function ask({ view, feature, source, gap }: Query) {
    for (let n = 0; ; n++) {
      try {
        const path = { drawing_id: desk.drawing!.id, sheet_id: desk.sheet!.id }
        if (lean.value) return await data(api.GET('/api/drawings/{drawing_id}/sheets/{sheet_id}/proposal', { params: { path, query: { view: view ? [view] : [], source, gap, form: form.value, holes: holes.value, datum: datums.value } } }))
        return await data(api.GET('/api/drawings/{drawing_id}/sheets/{sheet_id}/model-sizes', { params: { path, query: { view, feature } } }))
      } catch (error) {
        if (!(error instanceof Problem) || error.status !== 425 || n > 200) throw error
        await pause(300)
      }
    }
  }
  async function bring() {
    const sizes = fitting.value.filter((r) => chosen.value.includes(r.size!.id)).map((r) => r.size as Annotation)
    if (!sizes.length) return
    const mine = turn
    if (await desk.edit({ command: 'place', annotations: sizes, sheet: '', known: lean.value ? 'keep' : 'refuse' })) {
      if (mine === turn) close()
      desk.said = `${sizes.length} ${sizes.length === 1 ? 'size' : 'sizes'} ${lean.value ? 'placed' : 'brought from the model'}`
    } else {
      why.value = desk.problem
      desk.problem = ''
    }
  }
  const drop = (id: string) => (chosen.value = chosen.value.filter((c) => c !== id))
  /** Have another view say what a ghost says. */
  async function carry(id: string, view: string | null) {
    const row = rows.value.find((r) => r.size?.id === id)
    if (!row?.size || !view || view === row.view) return
    const mine = turn
    try {
      const path = { drawing_id: desk.drawing!.id, sheet_id: desk.sheet!.id }
      const answer = await data(api.POST('/api/drawings/{drawing_id}/sheets/{sheet_id}/proposal/elsewhere', { params: { path }, body: { annotation: row.size, view } }))
      if (mine !== turn) return
      const made = answer.rows[0]
      why.value = answer.why
      if (!made?.size) return
      rows.value = rows.value.map((r) => (r === row ? made : r))
      chosen.value = [...chosen.value.filter((c) => c !== id), made.size.id]
    } catch (error) {
      why.value = (error as Error).message
    }
  }
  /** Measure from an edge that is clicked while sizes are proposed. */
  watch(
    () => desk.selected,
    (now) => {
      const s = now.length === 1 ? now[0] : undefined
      if (!open.value || !lean.value || s?.kind !== 'curve') return
      const source = desk.hitOf(s.view)?.geometry?.curves[s.curve]?.source
      desk.selected = []
      if (!source) return
      datums.value = [`${s.view}|${source}`, ...datums.value].slice(0, 3)
      void look()
    },
  )
  watch([form, holes], () => open.value && lean.value && void look())
  /** Place a view that is wanting, arrange the sheet where there is no room for it, and look again. */
  async function addView(wanted: Schemas['WantedViewOut']) {
    views.value = []
    if (!(await desk.edit(wanted.command as Command))) return
    if (wanted.crowded) await desk.edit({ command: 'arrange_sheet', sheet: desk.sheet!.id })
    await look()
  }
  function close() {
    turn++
    abandon()
    views.value = []
    open.value = false
    rows.value = []
    pointed.value = ''
  }
  watch(() => `${desk.drawing?.id} ${desk.sheetId}`, close)

  return { open, lean, rows, chosen, pointed, waiting, busy, stop, why, fitting, left, ghosts, form, holes, datums, carried, start, look, views, addView, bring, drop, carry, close }
})
