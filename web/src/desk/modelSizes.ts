// Sizes listed to be brought to the sheet: the numbers that the model is made of, or a lean set that says what the drawing does not.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, ended, pause, Problem, type Annotation, type Schemas } from '@/api/client'
import { useDesk } from './store'

export type Row = Schemas['ModelSize']

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
  const why = ref('')
  const fitting = computed(() => rows.value.filter((r) => r.size))
  const left = computed(() => rows.value.filter((r) => !r.size))
  const ghosts = computed(() => fitting.value.filter((r) => chosen.value.includes(r.size!.id) || r.size!.id === pointed.value))
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
    lean.value = isLean
    const query = { ...asked(), gap }
    if (gap) query.view = ''
    desk.selected = []
    open.value = true
    rows.value = []
    chosen.value = []
    why.value = ''
    waiting.value = isLean ? 'Looking for what is not said …' : 'Looking at the model …'
    const mine = ++turn
    try {
      for (;;) {
        const answer = await ask(query)
        if (mine !== turn) return
        if (answer.job) {
          waiting.value = 'Changing one number of the recipe after another, to see what each decides …'
          const job = await ended(answer.job)
          if (job.state === 'failed') throw new Problem(job.text, 422)
          continue
        }
        rows.value = answer.rows
        chosen.value = fitting.value.map((r) => r.size!.id)
        why.value = answer.why || (answer.rows.length ? '' : isLean ? 'These views can say nothing more of the part.' : 'There is nothing to bring here.')
        break
      }
    } catch (error) {
      why.value = (error as Error).message
    } finally {
      if (mine === turn) waiting.value = ''
    }
  }
  async function ask({ view, feature, source, gap }: { view: string; feature: string[]; source: string[]; gap: string }) {
    for (let n = 0; ; n++) {
      try {
        const path = { drawing_id: desk.drawing!.id, sheet_id: desk.sheet!.id }
        if (lean.value) return await data(api.GET('/api/drawings/{drawing_id}/sheets/{sheet_id}/proposal', { params: { path, query: { view: view ? [view] : [], source, gap } } }))
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
  function close() {
    turn++
    open.value = false
    rows.value = []
    pointed.value = ''
  }
  watch(() => `${desk.drawing?.id} ${desk.sheetId}`, close)

  return { open, lean, rows, chosen, pointed, waiting, why, fitting, left, ghosts, start, bring, close }
})
