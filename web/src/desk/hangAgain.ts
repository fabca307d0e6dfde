// Hanging on again what was lost: the edges it hung on are pointed at, one after another.
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { Prompt } from './kinds/kind'
import { picked, type Spot } from './spots'
import { useDesk } from './store'

export const HANG_AGAIN = 'hang_again'

export const useHangAgain = defineStore('hangAgain', () => {
  const desk = useDesk()
  const annotation = ref('')
  const refusal = ref('')
  let under: Spot | null = null
  const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === annotation.value))
  const missing = computed(() => ink.value?.missing ?? [])
  const prompt = computed<Prompt | null>(() => {
    if (!annotation.value) return null
    const more = missing.value.length > 1 ? `; ${missing.value.length} are missing` : ''
    return { say: `Point at what ${ink.value?.text || 'it'} hangs on now${more}.`, keys: [['Esc', 'leave it lost']] }
  })
  function start() {
    const only = desk.selected.length === 1 ? desk.selected[0] : undefined
    annotation.value = only?.kind === 'annotation' ? only.id : ''
    refusal.value = ''
  }
  function reset() {
    annotation.value = ''
    refusal.value = ''
  }
  function move(_at: unknown, spot: Spot | null) {
    under = spot
  }
  /** Whether all of it hangs again. */
  async function click(): Promise<boolean> {
    const spot = under?.on ? ({ view: under.view, ...under.on } as Spot) : under
    const gone = missing.value[0]
    if (!spot || spot.curve < 0 || !gone) return false
    const p = picked(spot)
    refusal.value = ''
    const lost = { instance: gone.instance, source: gone.source, role: 'edge' as const, side: 0 as const }
    const to = { instance: p.instance, source: p.source, role: p.role ?? 'edge', side: 0 as const }
    if (!(await desk.edit({ command: 'rehang', annotation: annotation.value, lost, to, at: p.at }))) {
      refusal.value = desk.problem
      return false
    }
    return !missing.value.length
  }
  return { annotation, prompt, refusal, start, reset, move, click }
})
