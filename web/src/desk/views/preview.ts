// What a command about views would do, asked of the server and shown before it is done.
import { tryOnScopeDispose, useTimeoutFn } from '@vueuse/core'
import { ref, shallowRef } from 'vue'
import type { Command } from '@/api/client'
import type { HitIndex } from '../hit'
import { latest } from '../latest'
import type { XY } from '../places'
import { useDesk } from '../store'

export interface Ghost {
  id: string
  at: XY
  scale: number
  geometry: HitIndex | null
}
export interface Mark {
  view: string
  svg: string
}
const WAIT = 120 // ms until a view that is being derived is asked for again

/** command says what is in hand now, or null. */
export function useViewPreview(command: () => Command | null) {
  const desk = useDesk()
  const ghosts = shallowRef<Ghost[]>([])
  const marks = shallowRef<Mark[]>([])
  const letter = ref('')
  const refusal = ref('')
  let turn = 0

  const asking = latest(async () => {
    again.stop()
    const c = command()
    if (!c) return
    const mine = turn
    try {
      const answer = await desk.propose(c)
      if (mine !== turn) return
      refusal.value = answer.views.find((v) => v.state === 'failed')?.error ?? ''
      ghosts.value = answer.views.map((v) => ({ id: v.view.id ?? '', at: v.view.position, scale: v.scale, geometry: desk.hits.get(v.shape) ?? null }))
      marks.value = answer.views.flatMap((v) => (v.outer ?? []).map((o) => ({ view: o.view, svg: o.svg })))
      letter.value = answer.views[0]?.view.letter ?? ''
      if (answer.views.some((v) => v.state === 'waiting')) again.start()
    } catch (error) {
      if (mine !== turn) return
      clear()
      refusal.value = (error as Error).message
    }
  })
  const again = useTimeoutFn(asking.run, WAIT, { immediate: false })

  function clear() {
    ghosts.value = []
    marks.value = []
    letter.value = ''
  }
  /** Show nothing, nor what is still being answered. */
  function drop() {
    turn++
    again.stop()
    clear()
  }
  tryOnScopeDispose(drop)

  return { ghosts, marks, letter, refusal, ask: asking.run, drop }
}
