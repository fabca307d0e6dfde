// Scales as they are written and chosen. The lists are the standards' own (ISO 5455; inch practice).
import type { Sheet } from '@/api/client'

export type Scale = Sheet['scale']
const series = (text: string): string[] => text.split(' ')
export const STANDARD_SCALES: Record<string, string[]> = {
  ISO: series('50:1 20:1 10:1 5:1 2:1 1:1 1:2 1:5 1:10 1:20 1:50 1:100'),
  ASME: series('10:1 4:1 2:1 1:1 1:2 1:4 1:8 1:10 1:20 1:40 1:100'),
}
export const written = (s: Scale): string => `${s.drawn}:${s.true}`

/** A scale from 2:1, 1:5; null for anything else. */
export function parsed(text: string): Scale | null {
  const m = /^\s*(\d{1,5})\s*:\s*(\d{1,5})\s*$/.exec(text)
  return m && +m[1] > 0 && +m[2] > 0 ? { drawn: +m[1], true: +m[2] } : null
}
