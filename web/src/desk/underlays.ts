// Underlays of the sheet: what is known of their files, and those of their lines that are in sight.
import { defineStore } from 'pinia'
import { markRaw, shallowReactive } from 'vue'
import { api, data, type Annotation, type Schemas, type ViewCurve } from '@/api/client'
import { viewOf } from './spots'
import { useDesk } from './store'

export type Underlay = Extract<Annotation, { kind: 'underlay' }>
interface Box {
  left: number
  bottom: number
  right: number
  top: number
}
interface Seen {
  /** What it was asked for: the underlay as it lies, and its layers. */
  as: string
  box: Box
  curves: ViewCurve[]
  points: Schemas['PlacedPoint'][]
  words: Schemas['UnderlayWords'][]
  isMuch: boolean
}

export const useUnderlays = defineStore('underlays', () => {
  const desk = useDesk()
  const pages = shallowReactive(new Map<string, Schemas['UnderlayPage']>())
  const seen = shallowReactive(new Map<string, Seen>())
  const asking = new Set<string>()
  const path = () => desk.drawing!.id
  const all = () => (desk.sheet?.annotations.filter((a) => a.kind === 'underlay') ?? []) as Underlay[]
  const as = (a: Underlay) => JSON.stringify([a.file, a.position, a.unit, a.angle, a.off, a.anchor])

  async function know(file: string) {
    if (pages.has(file) || asking.has(file)) return
    asking.add(file)
    const found = await data(api.GET('/api/drawings/{drawing_id}/underlays/{key}', { params: { path: { drawing_id: path(), key: file } } })).catch(() => null)
    asking.delete(file)
    if (found) pages.set(file, markRaw(found))
  }

  /** Fetch what lies within what is seen of the sheet (sheet mm), and as much again about it. */
  async function look(sight: Box) {
    for (const a of all()) {
      void know(a.file)
      const v = a.anchor.on === 'view' ? desk.view(a.anchor.view) : undefined
      const k = v ? desk.scaleOf(v) : 1
      const [x, y] = v ? [v.position.x, v.position.y] : [0, 0]
      const box = { left: (sight.left - x) / k, bottom: (sight.bottom - y) / k, right: (sight.right - x) / k, top: (sight.top - y) / k }
      const known = seen.get(a.id)
      const holds = known && known.as === as(a) && known.box.left <= box.left && known.box.bottom <= box.bottom && known.box.right >= box.right && known.box.top >= box.top
      if (holds && (!known.isMuch || known.box.right - known.box.left < 2.2 * (box.right - box.left))) continue
      const [w, h] = [(box.right - box.left) / 4, (box.top - box.bottom) / 4]
      const wide = { left: box.left - w, bottom: box.bottom - h, right: box.right + w, top: box.top + h }
      const mine = as(a)
      if (asking.has(`${a.id}${mine}`)) continue
      asking.add(`${a.id}${mine}`)
      const found = await data(api.GET('/api/drawings/{drawing_id}/underlays/{annotation_id}/window', { params: { path: { drawing_id: path(), annotation_id: a.id }, query: wide } })).catch(() => null)
      asking.delete(`${a.id}${mine}`)
      if (found) seen.set(a.id, markRaw({ as: mine, box: wide, curves: found.curves as ViewCurve[], points: found.points, words: found.words, isMuch: found.is_much }))
    }
  }
  const of = (view: string) => all().filter((a) => viewOf(a) === view && seen.get(a.id)?.as === as(a))
  const current = (a: Underlay) => (seen.get(a.id)?.as === as(a) ? seen.get(a.id) : undefined)
  const curvesOf = (view: string) => of(view).flatMap((a) => seen.get(a.id)!.curves)
  const pointsOf = (view: string) => of(view).flatMap((a) => seen.get(a.id)!.points)
  return { pages, seen, all, look, current, curvesOf, pointsOf }
})
