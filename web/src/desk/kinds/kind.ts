// What the desk knows of a kind of annotation besides what the server tells of it. A new kind is a file beside this one.
import type { Component } from 'vue'
import type { Annotation, Answer } from '@/api/client'
import type { MenuItem } from '../SheetMenu.vue'
import type { Spot } from '../spots'

export interface Prompt {
  say: string
  keys: [string, string][]
}
export type Settings = Record<string, string | number | boolean>

/** A tool that picks what it needs, shows what it would make, and makes it. */
export interface PickTool {
  tool: string
  /** The kind it makes. */
  kind: string
  /** What a click takes: edges; one edge, then a place of its own; a view; the place a leader ends, then its own; a place of the sheet; or a trail of edges, points and free places. */
  takes: 'edges' | 'edge' | 'view' | 'tip' | 'place' | 'trail'
  /** Of a trail of places: how many make one, 0 for as many as are clicked before Enter. */
  places?: (settings: Settings) => number
  /** What it needs before it is in hand, as a file; null where that is called off. */
  begin?: () => Promise<Settings | null>
  /** Whether it is laid down once it has placed one. */
  once?: boolean
  /** Whether what it made is chosen then, for its particulars. */
  selects?: boolean
  /** Whether what it makes takes the place of what is there. */
  replaces?: boolean
  settings?: Settings
  /** What Space goes on to. */
  space?: (settings: Settings, answer: Answer | null) => Settings
  /** Whether picked edges are enough: not yet, at once, or once Enter or a click aside says so. gathering: Shift is held. */
  enough?: (picks: Spot[], gathering: boolean, isOutline: (s: Spot) => boolean) => 'no' | 'at once' | 'when said'
  /** What the particulars show while it is in hand. */
  particulars?: Component
  /** Of a place of the sheet: whether it belongs to the view that it lies in. */
  inView?: boolean
  /** What a click on another annotation adds to the settings once it is pointed; null where that is nothing. */
  gathers?: (other: Annotation, settings: Settings) => Settings | null
  /** Whether what it makes is written before it is placed. */
  writes?: boolean
  /** Whether picks may be shown before they are enough for a click. */
  say: (now: { picks: Spot[]; settings: Settings; answer: Answer | null; pointed: boolean }) => Prompt
  /** rare: folded under "more" in its stage. */
  action: { rare?: boolean; id: string; stage: number; name: string; about: string; key: string; icon: string; picture: string }
}

export interface KindOnDesk {
  kinds: string[]
  tools?: PickTool[]
  /** Tables that the particulars offer, as XLSX and CSV: their name, and in the address. */
  table?: { name: string; address: string }
  /** Only where the panel made from the kind's data will not do. */
  panel?: Component
  /** What the right button offers besides removing. */
  menu?: (id: string) => MenuItem[]
}
