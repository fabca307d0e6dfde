import { describe, expect, it } from 'vitest'
import type { View } from '@/api/client'
import { isOn, treeOf } from './partsOfView'

describe('the tree of parts', () => {
  it('groups paths by their levels and knows what lies below', () => {
    const tree = treeOf(['sill', 'w-1/plate', 'w-1/block/bush', 'w-1/block/pin', 'w-2/plate'])
    expect(tree.map((n) => [n.name, n.path, n.leaves.length])).toEqual([['sill', 'sill', 1], ['w-1', 'w-1/', 3], ['w-2', 'w-2/', 1]])
    expect(tree[1].children!.map((n) => n.name)).toEqual(['plate', 'block'])
    expect(tree[1].children![1].leaves).toEqual(['w-1/block/bush', 'w-1/block/pin'])
  })
  it("leaves out a file's own name around everything", () => {
    expect(treeOf(['Rack/bar', 'Rack/peg']).map((n) => n.path)).toEqual(['Rack/bar', 'Rack/peg'])
  })
})

describe('what a tick says', () => {
  const view = { without: ['a'], no_hidden: ['b'], transparent: ['c'], trails_off: [] } as unknown as View
  it('is on for what is not in the list of those off, and for what is in the list of those on', () => {
    expect(['a', 'b'].map((p) => isOn(view, 'shown', p))).toEqual([false, true])
    expect(['a', 'b'].map((p) => isOn(view, 'hidden', p))).toEqual([true, false])
    expect(['a', 'c'].map((p) => isOn(view, 'through', p))).toEqual([false, true])
    expect(isOn(view, 'trail', 'a')).toBe(true)
  })
})
