// Every action of every stage, with its key and picture: the stage rail and the finder show the same list.
import { useDesk } from './store'
import { useTools } from './tools'

export interface Action {
  id: string
  stage: number
  name: string
  about: string
  key?: string
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
  { number: 4, name: 'Sizes' },
  { number: 9, name: 'Publish' },
]

// 22 x 22 pictures of the result on paper
export const ICONS: Record<string, string> = {
  angle: 'M3 13l6-2v8l-6-2zM13 15a4 4 0 1 0 8 0 4 4 0 0 0-8 0M3 5h16M7 2 3 5l4 3',
  fields: 'M3 4h16v14H3zM3 13h16M10 13v5',
  main: 'M5 5h12v8h-4v4H5z',
  projected: 'M2 3h8v6H2zM14 3h5v6h-5zM2 13h8v6H2z',
  size: 'M3 4v12M19 4v12M3 10h16M6.5 8.5 3 10l3.5 1.5M15.500 8.500 19 10l-3.500 1.500',
  file: 'M5 2h8l4 4v14H5zM13 2v4h4',
  fit: 'M3 5h16v12H3zM6 8h10v6H6z',
  undo: 'M7 5 3 9l4 4M3 9h9a5 5 0 0 1 0 10H8',
  redo: 'M15 5l4 4-4 4M19 9h-9a5 5 0 0 0 0 10h4',
}

export function useActions(focusFields: () => void, fit: () => void): Action[] {
  const desk = useDesk()
  const tools = useTools()
  const other = () => (desk.document?.projection === 'first' ? 'third' : 'first')
  return [
    { id: 'fields', stage: 1, name: 'Title block', about: 'fill in what is blank', key: 'B', icon: 'fields', run: focusFields },
    {
      id: 'angle', stage: 1, name: 'Switch projection', about: 'first or third angle', key: 'J', icon: 'angle',
      run: () => void desk.edit({ command: 'switch_projection', projection: other() }),
    },
    { id: 'fit', stage: 1, name: 'Fit the sheet', about: 'see all of it', key: '0', icon: 'fit', run: fit },
    { id: 'main', stage: 2, name: 'Main view', about: 'choose its direction, place it', key: 'M', icon: 'main', run: () => tools.start('main'), active: () => tools.tool === 'main' },
    { id: 'projected', stage: 2, name: 'Projected view', about: 'move from a view to any side', key: 'P', icon: 'projected', run: () => tools.start('projected'), active: () => tools.tool === 'projected' },
    { id: 'size', stage: 4, name: 'Size', about: 'pick things, the kind follows', key: 'S', icon: 'size', run: () => tools.start('size'), active: () => tools.tool === 'size' },
    { id: 'pdf', stage: 9, name: 'PDF', about: 'all sheets, to scale', key: 'D', icon: 'file', run: () => void desk.publish('pdf') },
    { id: 'svg', stage: 9, name: 'SVG', about: 'for a page or a manual', key: 'V', icon: 'file', run: () => void desk.publish('svg') },
    { id: 'dxf', stage: 9, name: 'DXF', about: 'layers and true curves for the shop', key: 'X', icon: 'file', run: () => void desk.publish('dxf') },
  ]
}
