// A size's line or number, or a balloon, dragged: drawn by the core where it would be.
import { ref } from 'vue'
import { api, data, type Preview } from '@/api/client'
import { isBalloon, usePartTools, type Balloon } from './partTools'
import type { XY } from './places'
import { useDesk } from './store'

type InHand = Pick<Preview, 'annotation' | 'svg'> | { annotation: Balloon; svg: string }

export function useSizeDrag() {
  const desk = useDesk()
  const parts = usePartTools()
  /** number: taken by its number; tip: a balloon taken by the end of its leader. */
  const sizeDrag = ref<{ id: string; number: boolean; tip: boolean; preview: InHand | null } | null>(null)

  function grabSize(id: string, p: XY, number: boolean) {
    const a = desk.annotation(id)
    sizeDrag.value = { id, number, tip: isBalloon(a) && parts.gripAt(a, p) === 'tip', preview: null }
  }
  let latest: XY | null = null
  let asking: Promise<void> | null = null
  let dropped = false
  function dragSize(p: XY) {
    if (dropped) return
    latest = p
    asking ??= ask().finally(() => (asking = null))
  }
  async function ask() {
    while (latest && sizeDrag.value) {
      const pointer = latest
      latest = null
      try {
        const preview = await replaced(sizeDrag.value.id, pointer)
        if (sizeDrag.value) sizeDrag.value = { ...sizeDrag.value, preview }
      } catch (error) {
        desk.fail(error)
      }
    }
  }
  /** The size as it would be with its line under the pointer. */
  async function replaced(id: string, pointer: XY): Promise<InHand> {
    const a = desk.annotation(id)!
    if (isBalloon(a)) {
      const found = await parts.dragged(a, pointer, sizeDrag.value?.tip ? 'tip' : 'place')
      return { annotation: found.balloon as Balloon, svg: found.svg }
    }
    return data(
      api.POST('/api/drawings/{drawing_id}/replace', { params: { path: { drawing_id: desk.drawing!.id } }, body: { id: a.id, pointer, grip: sizeDrag.value?.number ? 'number' : 'line' } }),
    )
  }
  /** Let go: it stays where the pointer was last, also if that has not been drawn yet. */
  async function dropSize() {
    dropped = true
    await asking
    const { id, preview } = sizeDrag.value ?? { id: '', preview: null }
    const now = preview?.annotation
    if (now?.kind === 'balloon') await desk.edit({ command: 'place_balloons', balloons: [now] })
    else if (now) {
      const { place, shift } = now
      await desk.edit({ command: 'change_annotation', id, place, ...(typeof shift === 'number' ? { shift } : { centered: true }) })
    }
    sizeDrag.value = null
    dropped = false
  }
  return { sizeDrag, grabSize, dragSize, dropSize }
}
