// Every action of every stage, with its key and picture: the stage rail and the finder show the same list.
import { centerEverything } from './centerActions'
import { numberCharacteristics } from './characteristics'
import { PICK_TOOLS } from './kinds'
import { sameAgain } from './sameAgain'
import { numberAll, numberClockwise, partsList } from './partActions'
import { useFindings } from './findings'
import { callOutHoles } from './holeActions'
import { useModelSizes } from './modelSizes'
import { flipArrows, tidyViews } from './sizeActions'
import { usePencil } from './pencil'
import { useSizeTools } from './sizeTools'
import { useDesk } from './store'
import { useTools } from './tools'

export interface Action {
  id: string
  stage: number
  name: string
  about: string
  key?: string
  /** Folded under "more" in its stage. */
  rare?: boolean
  icon: string
  run: () => void
  active?: () => boolean
}
export interface Stage {
  number: number
  name: string
}

export const STAGES: Stage[] = [
  { number: 1, name: 'Sheet' },
  { number: 2, name: 'Views' },
  { number: 3, name: 'Centers' },
  { number: 4, name: 'Sizes' },
  { number: 5, name: 'Tolerances' },
  { number: 6, name: 'Notes' },
  { number: 7, name: 'Parts' },
  { number: 8, name: 'Check' },
  { number: 9, name: 'Publish' },
]

// 22 x 22 pictures of the result on paper
export const ICONS: Record<string, string> = {
  ...Object.fromEntries(PICK_TOOLS.map((t) => [t.action.icon, t.action.picture])),
  angle: 'M3 13l6-2v8l-6-2zM13 15a4 4 0 1 0 8 0 4 4 0 0 0-8 0M3 5h16M7 2 3 5l4 3',
  fields: 'M3 4h16v14H3zM3 13h16M10 13v5',
  main: 'M5 5h12v8h-4v4H5z',
  set: 'M2 2h7v6H2zM13 2h7v6h-7zM2 12h7v7H2zM13 12l7 3-4 4-3-3z',
  section: 'M3 4h4v14H3zM11 4h8v14h-8zM11 9l5-5M11 14l8-8M13 18l6-6',
  breakout: 'M3 4h16v14H3zM8 8c2-2 6-1 7 1s1 5-2 6-5 0-6-2 0-4 1-5zM9 13l5-5',
  web: 'M3 17h16v3H3zM9 17l6-11v11zM3 17l3 3M15 17l3 3',
  auxiliary: 'M3 18V9l7-5v14zM13 8l6-4v9l-6 4z',
  detail: 'M3 3h9v9H3zM8 8a6 6 0 1 1 12 6 6 6 0 0 1-12-6M12 10h4v5',
  interrupt: 'M2 7h6l-1 3 2 2-1 3H2zM20 7h-6l-1 3 2 2-1 3h6z',
  hatch: 'M3 4h16v14H3zM3 12l8-8M3 18 17 4M9 18 19 8M15 18l4-4',
  arrange: 'M3 3h7v6H3zM13 3h6v10h-6zM3 12h7v7H3zM13 16h6v3h-6z',
  sheet: 'M4 2h10l4 4v14H4zM11 9v6M8 12h6',
  projected: 'M2 3h8v6H2zM14 3h5v6h-5zM2 13h8v6H2z',
  everycenter: 'M3 6h8M7 2v8M11 16h8M15 12v8M3 16h6M6 13v6M13 6h6M16 3v6',
  size: 'M3 4v12M19 4v12M3 10h16M6.5 8.5 3 10l3.5 1.5M15.500 8.500 19 10l-3.500 1.500',
  chain: 'M2 5v12M9 5v12M15 5v12M20 5v12M2 11h18',
  baseline: 'M3 3v16M10 3v5M19 3v12M3 6h7M3 13h16',
  ordinate: 'M3 19v-6M10 19v-9M18 19v-7M2 8h2M9 5h3M17 7h3',
  table: 'M3 4h16v14H3zM3 8.500h16M3 13h16M9 4v14',
  callouts: 'M3 15a3 3 0 1 1 6 0 3 3 0 0 1-6 0M9 6a2 2 0 1 1 4 0 2 2 0 0 1-4 0M8 13l5-3h6M13 6h6M13 17h6M9 16l4 1',
  tidy: 'M4 3v6h14V3M6 12h10M3 15.500h16M8 19h6',
  flip: 'M3 6h6M6 4l3 2-3 2M19 6h-6M16 4l-3 2 3 2M9 15H3M6 13l-3 2 3 2M13 15h6M16 13l3 2-3 2',
  bring: 'M2 12h7v7H2zM13 4h7v15h-7zM9 8h4M9 8l2-1.500M9 8l2 1.500M13 8l-2-1.500M13 8l-2 1.500M9 5v5M5 2v6M3 6l2 2 2-2',
  propose: 'M3 6v10M13 6v10M3 11h10M5.500 9.500 3 11l2.500 1.500M10.500 9.500 13 11l-2.500 1.500M17 3v6M14 6h6',
  reading: 'M8 9h6v5H8zM3 5a2 2 0 1 1 4 0 2 2 0 0 1-4 0M15 5a2 2 0 1 1 4 0 2 2 0 0 1-4 0M15 17a2 2 0 1 1 4 0 2 2 0 0 1-4 0M9 5h3M11 3.500 13 5l-2 1.500M17 9v3M15.500 11l1.500 2 1.500-2',
  brush: 'M14 3l5 5-8 7-4-4zM7 11l-3 7 7-3',
  sheetrows: 'M4 2h14v18H4zM7 6h8M7 10h8M7 14h8',
  again: 'M3 4h8M3 8h8M11 14h8M11 18h8M7 11v4a2 2 0 0 0 2 2M13 11l-2-2',
  generalnotes: 'M4 4v4M3 5l1-1M3 12h2.500L3 16h2.500M9 6h10M9 14h10M9 18h6',
  partslist: 'M3 4h16v3H3zM3 7v12h16V7M3 11h16M3 15h16M7 7v12',
  numberall: 'M7 8h8v6H7zM3 4a2 2 0 1 1 4 0 2 2 0 0 1-4 0M15 4a2 2 0 1 1 4 0 2 2 0 0 1-4 0M3 18a2 2 0 1 1 4 0 2 2 0 0 1-4 0M15 18a2 2 0 1 1 4 0 2 2 0 0 1-4 0M6 5l3 4M16 5l-3 4M6 17l3-4M16 17l-3-4',
  pencilcloud: 'M4 9a3 3 0 0 1 4-3a3 3 0 0 1 5 0a3 3 0 0 1 4 3M4 13a3 3 0 0 0 4 3a3 3 0 0 0 5 0a3 3 0 0 0 4-3M4 9v4M17 9v4',
  pencilarrow: 'M4 18 17 5M17 5l-5 1M17 5l-1 5M3 14h3M3 10h2',
  pencilwords: 'M4 5h14M4 9h10M4 13h12M4 17h6',
  ticking: 'M4 12l5 5 9-12',
  characteristics: 'M8 5h11v8H8L3 9zM11 9h5M4 18h15',
  nextfound: 'M3 5h10v10H3zM6 10l2 2 4-5M15 10h4M17 8l2 2-2 2',
  nextfinding: 'M4 6h9v8H4zM15 10h4M17 8l2 2-2 2',
  file: 'M5 2h8l4 4v14H5zM13 2v4h4',
  fit: 'M3 5h16v12H3zM6 8h10v6H6z',
  undo: 'M7 5 3 9l4 4M3 9h9a5 5 0 0 1 0 10H8',
  redo: 'M15 5l4 4-4 4M19 9h-9a5 5 0 0 0 0 10h4',
}

export function useActions(focusFields: () => void, fit: () => void, strip: () => void, sizeSheet: () => void, partsTable: () => void, generalNotes: () => void, inspection: () => void): Action[] {
  const desk = useDesk()
  const tools = useTools()
  const sizes = useSizeTools()
  const pencil = usePencil()
  const model = useModelSizes()
  const findings = useFindings()
  async function addSheet() {
    if (await desk.edit({ command: 'add_sheet', after: desk.sheet!.id })) await desk.showSheet(desk.document!.sheets[desk.document!.sheets.findIndex((s) => s.id === desk.sheet!.id) + 1].id)
  }
  const other = () => (desk.document?.projection === 'first' ? 'third' : 'first')
  const own: Action[] = [
    { id: 'fields', stage: 1, name: 'Title block', about: 'fill in what is blank', key: 'B', icon: 'fields', run: focusFields },
    {
      id: 'angle', stage: 1, name: 'Switch projection', about: 'first or third angle', key: 'J', icon: 'angle',
      run: () => void desk.edit({ command: 'switch_projection', projection: other() }),
    },
    { id: 'addsheet', stage: 1, name: 'Add a sheet', about: 'like the one before it', key: 'G', icon: 'sheet', run: () => void addSheet() },
    { id: 'strip', stage: 1, name: 'All sheets', about: 'order, rename, copy, remove', key: 'K', icon: 'arrange', run: strip },
    { id: 'fit', stage: 1, name: 'Fit the sheet', about: 'see all of it', key: '0', icon: 'fit', run: fit },
    { id: 'main', stage: 2, name: 'Main view', about: 'pick what faces front', key: 'M', icon: 'main', run: () => tools.start('main'), active: () => tools.tool === 'main' },
    { id: 'set', stage: 2, name: 'Standard set', about: 'several views in one click', key: 'N', icon: 'set', run: () => tools.start('set'), active: () => tools.tool === 'set' },
    { id: 'projected', stage: 2, name: 'Projected view', about: 'beside, above or below', key: 'P', icon: 'projected', run: () => tools.start('projected'), active: () => tools.tool === 'projected' },
    { id: 'section', stage: 2, name: 'Section', about: 'draw its line, place it', key: 'C', icon: 'section', run: () => tools.start('section'), active: () => tools.tool === 'section' },
    { id: 'breakout', stage: 2, name: 'Broken-out section', about: 'open a place of a view', key: 'U', icon: 'breakout', run: () => tools.start('breakout'), active: () => tools.tool === 'breakout' },
    { id: 'web', rare: true, stage: 2, name: 'Web left whole', about: 'a rib that is not hatched', key: 'W', icon: 'web', run: () => tools.start('web'), active: () => tools.tool === 'web' },
    { id: 'auxiliary', stage: 2, name: 'Auxiliary view', about: 'square to a slanting edge', key: 'A', icon: 'auxiliary', run: () => tools.start('auxiliary'), active: () => tools.tool === 'auxiliary' },
    { id: 'detail', stage: 2, name: 'Detail', about: 'a place, larger', key: 'E', icon: 'detail', run: () => tools.start('detail'), active: () => tools.tool === 'detail' },
    { id: 'interrupt', stage: 2, name: 'Interrupted view', about: 'leave out a long middle', key: 'I', icon: 'interrupt', run: () => tools.start('interrupt'), active: () => tools.tool === 'interrupt' },
    { id: 'hatch', rare: true, stage: 2, name: 'Hatch a region', about: 'any closed outline', key: 'H', icon: 'hatch', run: () => tools.start('hatch'), active: () => tools.tool === 'hatch' },
    { id: 'arrange', stage: 2, name: 'Arrange sheet', about: 'no overlap, largest scale', key: 'R', icon: 'arrange', run: () => void desk.edit({ command: 'arrange_sheet', sheet: desk.sheet!.id }) },
    { id: 'everycenter', stage: 3, name: 'Center everything', about: 'of the chosen views, or the sheet', key: 'T', icon: 'everycenter', run: () => void centerEverything() },
    { id: 'size', stage: 4, name: 'Size', about: 'the kind follows', key: 'S', icon: 'size', run: () => tools.start('size'), active: () => tools.tool === 'size' },
    { id: 'chain', stage: 4, name: 'Chain', about: 'one after another', key: '⇧C', icon: 'chain', run: () => tools.start('chain'), active: () => tools.tool === 'chain' },
    { id: 'baseline', stage: 4, name: 'Baseline', about: 'rows from one origin', key: '⇧B', icon: 'baseline', run: () => tools.start('baseline'), active: () => tools.tool === 'baseline' },
    { id: 'ordinate', rare: true, stage: 4, name: 'Ordinate', about: 'distances from zero, no arrows', key: '⇧O', icon: 'ordinate', run: () => tools.start('ordinate'), active: () => tools.tool === 'ordinate' },
    { id: 'table', rare: true, stage: 4, name: 'Hole table', about: 'holes numbered, in a table', key: '⇧H', icon: 'table', run: () => tools.start('table'), active: () => tools.tool === 'table' },
    { id: 'callouts', stage: 4, name: 'Call out all holes', about: 'each kind once', key: '⇧E', icon: 'callouts', run: () => void callOutHoles() },
    { id: 'tidy', stage: 4, name: 'Tidy view', about: 'rows in order', key: '⇧T', icon: 'tidy', run: () => void tidyViews() },
    { id: 'flip', rare: true, stage: 4, name: 'Flip arrows', about: 'of the chosen sizes', key: 'F', icon: 'flip', run: () => sizes.flip() || void flipArrows() },
    { id: 'bring', stage: 4, name: 'Bring model sizes', about: 'its own numbers', key: '⇧M', icon: 'bring', run: () => void model.start(), active: () => model.open && !model.lean },
    { id: 'propose', stage: 4, name: 'Propose sizes', about: 'what is not said yet', key: '=', icon: 'propose', run: () => void model.start(true), active: () => model.open && model.lean },
    { id: 'brush', stage: 5, name: 'Copy style', about: 'number form and tolerance onto others', key: '⇧Y', icon: 'brush', run: () => tools.start('brush'), active: () => tools.tool === 'brush' },
    { id: 'sizesheet', stage: 5, name: 'Size sheet', about: 'all sizes as a table', key: '⇧S', icon: 'sheetrows', run: sizeSheet },
    { id: 'generalnotes', stage: 6, name: 'General notes', about: 'of the drawing', key: '⇧J', icon: 'generalnotes', run: generalNotes },
    { id: 'again', rare: true, stage: 6, name: 'Same again', about: 'like the chosen note, weld or texture', key: '.', icon: 'again', run: () => void sameAgain() },
    { id: 'partslist', stage: 7, name: 'Parts list', about: 'on the title block', key: '⇧P', icon: 'partslist', run: () => void partsList() },
    { id: 'numberall', stage: 7, name: 'Number all parts', about: 'of the chosen view, in rows', key: '⇧N', icon: 'numberall', run: () => void numberAll() },
    { id: 'reading', stage: 7, name: 'Number clockwise', about: 'items in the order of the balloons', key: '⇧G', icon: 'reading', run: () => void numberClockwise() },
    { id: 'partsrows', stage: 7, name: 'Edit the rows', about: 'items, materials, costs', key: '⇧R', icon: 'sheetrows', run: partsTable },
    { id: 'pencilcloud', stage: 8, name: 'Red cloud', about: 'about what is wrong', key: '', icon: 'pencilcloud', run: () => tools.start('pencil_cloud'), active: () => tools.tool === 'pencil_cloud' },
    { id: 'pencilarrow', stage: 8, name: 'Red arrow', about: 'from words to a place', key: '', icon: 'pencilarrow', run: () => tools.start('pencil_arrow'), active: () => tools.tool === 'pencil_arrow' },
    { id: 'pencilwords', stage: 8, name: 'Red words', about: 'at a place of the sheet', key: '', icon: 'pencilwords', run: () => tools.start('pencil_words'), active: () => tools.tool === 'pencil_words' },
    { id: 'ticking', stage: 8, name: 'Tick', about: 'sizes that are right', key: '', icon: 'ticking', run: () => tools.start('tick'), active: () => tools.tool === 'tick' },
    { id: 'nextfound', stage: 8, name: 'Next finding', about: 'of those found by itself', key: 'N', icon: 'nextfound', run: () => void findings.next() },
    { id: 'nextfinding', stage: 8, name: 'Next red mark', about: 'on to what is still open', key: '-', icon: 'nextfinding', run: () => void pencil.next() },
    { id: 'characteristics', stage: 8, name: 'Number characteristics', about: 'what is to be inspected', key: '#', icon: 'characteristics', run: () => void numberCharacteristics() },
    { id: 'inspection', stage: 8, name: 'Inspection sheet', about: 'measured, in or out', key: '+', icon: 'sheetrows', run: inspection },
    { id: 'checked', stage: 8, name: 'Print the red marks', about: 'with what was said', key: '', icon: 'file', run: () => void desk.publish('checked') },
    { id: 'pdf', stage: 9, name: 'PDF', about: 'all sheets, to scale', key: 'D', icon: 'file', run: () => void desk.publish('pdf') },
    { id: 'pdfa', stage: 9, name: 'PDF to keep', about: 'PDF/A-3 with model and data', key: '', icon: 'file', run: () => void desk.publish('pdfa') },
    { id: 'svg', stage: 9, name: 'SVG', about: 'for a page or a manual', key: 'V', icon: 'file', run: () => void desk.publish('svg') },
    { id: 'dxf', stage: 9, name: 'DXF', about: 'layers and true curves for the shop', key: 'X', icon: 'file', run: () => void desk.publish('dxf') },
  ]
  const ofKinds: Action[] = PICK_TOOLS.map(({ tool, action }) => ({ ...action, run: () => void tools.take(tool), active: () => tools.tool === tool }))
  const all = [...own, ...ofKinds]
  findings.actions = Object.fromEntries(all.map((a) => [a.id, a.run]))
  return all
}
