// The parts of an assembly as a view treats them: shown, seen through, with hidden lines or trail lines, each part or group alone or all.
import { defineStore } from 'pinia'
import type { View } from '@/api/client'
import { useDesk } from './store'

export interface PartNode {
  /** Path of an instance, or of a group with a slash at its end. */
  path: string
  name: string
  /** Paths of the instances below, or its own. */
  leaves: string[]
  children?: PartNode[]
}

/** What a tick says of a part in a view: whether it is on, from the list of those that are off. */
export const ASPECTS = {
  shown: { name: 'shown', list: 'without', off: true },
  hidden: { name: 'hidden lines', list: 'no_hidden', off: true },
  through: { name: 'seen through', list: 'transparent', off: false },
  trail: { name: 'trail line', list: 'trails_off', off: true },
} as const
export type Aspect = keyof typeof ASPECTS

export function treeOf(paths: readonly string[]): PartNode[] {
  const root: PartNode = { path: '', name: '', leaves: [], children: [] }
  const groups = new Map<string, PartNode>([['', root]])
  const group = (path: string): PartNode => {
    const known = groups.get(path)
    if (known) return known
    const cut = path.lastIndexOf('/', path.length - 2) + 1
    const made: PartNode = { path, name: path.slice(cut, -1), leaves: [], children: [] }
    groups.set(path, made)
    group(path.slice(0, cut)).children!.push(made)
    return made
  }
  for (const path of paths) {
    const cut = path.lastIndexOf('/') + 1
    group(path.slice(0, cut)).children!.push({ path, name: path.slice(cut), leaves: [path] })
  }
  const gather = (n: PartNode): string[] => (n.children ? (n.leaves = n.children.flatMap(gather)) : n.leaves)
  gather(root)
  // a file's own name around everything tells nothing
  return root.children!.length === 1 && root.children![0].children ? root.children![0].children : root.children!
}

export const listOf = (view: View, aspect: Aspect): string[] => view[ASPECTS[aspect].list] ?? []
export const isOn = (view: View, aspect: Aspect, path: string) => listOf(view, aspect).includes(path) !== ASPECTS[aspect].off

export const usePartsOfView = defineStore('partsOfView', () => {
  const desk = useDesk()
  /** One edit after another: each builds on what the one before it left. */
  let turn: Promise<unknown> = Promise.resolve()
  const inTurn = (edit: () => Promise<unknown>) => (turn = turn.then(edit))

  function set(id: string, aspect: Aspect, paths: readonly string[], on: boolean) {
    return inTurn(() => {
      const view = desk.view(id)
      const mine = new Set(paths)
      const rest = view ? listOf(view, aspect).filter((p) => !mine.has(p)) : []
      return desk.edit({ command: 'change_view', view: id, [ASPECTS[aspect].list]: on === ASPECTS[aspect].off ? rest : [...rest, ...paths] })
    })
  }
  /** These alone, all others left out. */
  function only(id: string, paths: readonly string[], all: readonly string[]) {
    const mine = new Set(paths)
    return inTurn(() => desk.edit({ command: 'change_view', view: id, without: all.filter((p) => !mine.has(p)) }))
  }
  const all = (id: string) => inTurn(() => desk.edit({ command: 'change_view', view: id, without: [] }))
  return { set, only, all }
})
