// What the size tools say they want next.
import type { Answer } from '@/api/client'
import type { Prompt } from './kinds/kind'
import type { Spot } from './spots'

export interface SizeState {
  tool: string
  picks: Spot[]
  spot: Spot | null
  answer: Answer | null
  /** A size that repeats another goes in as it is, not for reference. */
  full: boolean
  growing: boolean
  /** What the size to copy from says; empty until one is picked. */
  copied: string
}

export function sizePrompt(now: SizeState): Prompt {
  const { tool, picks, answer } = now
  const leave: [string, string] = ['Esc', picks.length ? 'pick again' : 'leave']
  if (tool === 'size') return oneSize(now, leave)
  if (tool === 'brush')
    return now.copied
      ? { say: `Click the sizes that take over ${now.copied}.`, keys: [['Esc', 'another style']] }
      : { say: 'Click the size whose number form and tolerance others take over.', keys: [leave] }
  if (now.growing) return { say: 'Pick what the run takes in.', keys: [['Esc', 'done']] }
  const table = tool === 'table'
  if (!picks.length) return { say: `Pick the origin: ${table ? 'a corner, an end or a center' : 'a line, a point or a circle'}.`, keys: [leave] }
  if (picks.length === 1) return { say: `Pick the ${table ? 'holes' : 'lines, points or circles'} to size from it, or sweep a box over them.`, keys: [leave] }
  const keys: [string, string][] = [...(table ? [] : [['Space', 'other direction'] as [string, string]]), ['Enter', 'place here'], leave]
  const holes = picks.length - 1
  return { say: table ? `${holes} ${holes === 1 ? 'hole' : 'holes'}: pick more, or place the table.` : `${answer?.texts.length ?? 0} sizes: pick more, or place the row.`, keys }
}

function oneSize({ picks, spot, answer: p, full }: SizeState, leave: [string, string]): Prompt {
  if (!picks.length) return { say: spot?.point ? `Pick an edge, a circle or a point: ${spot.point.kind}.` : 'Pick an edge, a circle or a point.', keys: [['Esc', 'leave']] }
  const keys: [string, string][] = [['Enter', 'place here'], leave]
  const other = p && p.options.length > 1 ? p.options[(p.options.indexOf(p.option) + 1) % p.options.length] : ''
  if (other) keys.unshift(['Space', other])
  if (p?.repeats) keys.unshift(['F', full ? 'as reference' : 'in full'])
  if (!p && picks.length === 1) return { say: picks[0].point ? `Pick a second thing to size from this ${picks[0].point.kind}.` : 'Pick a second thing.', keys: [leave] }
  const name = `${p?.name ?? 'Size'} ${p?.texts[0] ?? ''}`
  const why = p?.repeats ? ', said already as ' + p.repeats : ''
  if (p?.note) return { say: `${name}: ${p.note}`, keys }
  if (picks.length === 1 && !picks[0].ring) return { say: `${name}${why}: place it, or pick a second thing for a distance or an angle.`, keys }
  return { say: `${name}${why}: place it.`, keys }
}
