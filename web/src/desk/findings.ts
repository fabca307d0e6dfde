// What is found on a drawing by itself while checking: lit, mended in a click, or meant so.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data, type Command, type Schemas } from '@/api/client'
import { useCompleteness } from './completeness'
import { latest } from './latest'
import { useModelSizes } from './modelSizes'
import { useDesk } from './store'

export type Found = Schemas['Finding']
export type Remedy = Found['remedies'][number]
/** Rules that the list of sizes shows. */
export const SAID = ['completeness', 'not given', 'said twice', 'not understood']

export const useFindings = defineStore('findings', () => {
  const desk = useDesk()
  const said = useCompleteness()
  const page = shallowRef<Schemas['Findings']>()
  const refusal = ref('')
  /** Key of the finding whose place is lit. */
  const chosen = ref('')
  /** Does an action of the desk by its name. */
  const actions = shallowRef<Record<string, () => void>>({})
  const one = computed(() => page.value?.findings.find((f) => f.key === chosen.value))
  const lit = computed(() => new Set(said.lighting ? (one.value?.ids ?? []) : []))
  const open = computed(() => page.value?.findings.filter((f) => !f.meant) ?? [])
  /** Those that the list of sizes does not show, by the number of their sheet. */
  const sheets = computed(() => {
    const out = new Map<number, Found[]>()
    for (const f of page.value?.findings ?? []) if (!SAID.includes(f.rule)) out.set(f.number, [...(out.get(f.number) ?? []), f])
    return [...out]
  })
  const of = (rule: string, text: string) => page.value?.findings.find((f) => f.rule === rule && f.text === text)
  const looking = latest(async () => {
    const id = desk.drawing?.id
    if (!id || !said.lighting) return
    let why = ''
    const found = await data(api.GET('/api/drawings/{drawing_id}/findings', { params: { path: { drawing_id: id } } })).catch((error: Error) => void (why = error.message))
    if (id !== desk.drawing?.id) return
    page.value = found || undefined
    refusal.value = why
  })
  watch(() => [said.lighting, desk.drawing?.id, desk.drawing?.version, desk.deriving, !said.working], ([, id], before) => {
    if (before && id !== before[1]) {
      page.value = undefined
      chosen.value = ''
    }
    void looking.run()
  })

  /** Light the place of a finding, on its sheet. */
  async function show(f: Found) {
    if (f.sheet !== desk.sheet?.id) await desk.showSheet(f.sheet)
    desk.selected = []
    chosen.value = f.key
    said.pointed = f.rule === 'not given' ? (said.answer?.gaps.findIndex((g) => g.text === f.text) ?? -1) : -1
  }
  async function next() {
    const list = open.value
    if (!list.length) {
      desk.said = page.value ? 'Nothing is open' : 'The drawing is still being looked at'
      return
    }
    await show(list[(list.findIndex((f) => f.key === chosen.value) + 1) % list.length])
  }
  async function mend(f: Found, remedy: Remedy) {
    await show(f)
    if (remedy.action === 'propose') return useModelSizes().start(true, f.text)
    if (remedy.action) {
      desk.selected = f.ids.map((id) => (desk.view(id) ? { kind: 'view' as const, id } : { kind: 'annotation' as const, id }))
      actions.value[remedy.action]?.()
      if (remedy.action === 'tidy') desk.selected = []
      return
    }
    await desk.edit(remedy.command as Command)
  }
  async function send(body: Schemas['MeantSo']): Promise<boolean> {
    refusal.value = ''
    try {
      page.value = await data(api.POST('/api/drawings/{drawing_id}/findings/meant', { params: { path: { drawing_id: desk.drawing!.id } }, body }))
      return true
    } catch (error) {
      refusal.value = (error as Error).message
      return false
    }
  }
  const mean = (f: Found, reason: string) => send({ key: f.key, reason, open: false })
  const reopen = (f: Found) => send({ key: f.key, reason: '', open: true })
  return { page, refusal, chosen, actions, one, lit, open, sheets, of, show, next, mend, mean, reopen, look: looking.run, settled: looking.settled }
})
