// How the interface says things.

/** today, yesterday, or a short date. */
export function when(iso: string, now = new Date()): string {
  const date = new Date(iso)
  const day = (d: Date) => Math.floor((d.getTime() - d.getTimezoneOffset() * 60000) / 86400000)
  const ago = day(now) - day(date)
  if (ago === 0) return 'today'
  if (ago === 1) return 'yesterday'
  const sameYear = date.getFullYear() === now.getFullYear()
  return date.toLocaleDateString('en-US', { day: 'numeric', month: 'short', ...(sameYear ? {} : { year: 'numeric' }) })
}

/** A length in millimeters in the model's own unit, for reading. */
export function lengthText(mm: number, units: string): string {
  const value = units === 'in' ? mm / 25.4 : mm
  return `${Number(value.toFixed(units === 'in' ? 3 : 2))}`
}

export function massText(kg: number | null | undefined): string {
  if (kg === null || kg === undefined) return 'unknown: a material is missing'
  return kg < 1 ? `${Number((kg * 1000).toPrecision(3))} g` : `${Number(kg.toPrecision(4))} kg`
}

/** Bytes for reading: kB, MB or GB by thousands. */
export function sizeText(bytes: number): string {
  const steps: [number, string][] = [[1e9, 'GB'], [1e6, 'MB'], [1e3, 'kB']]
  for (const [step, unit] of steps) if (bytes >= step) return `${Number((bytes / step).toPrecision(3))} ${unit}`
  return `${bytes} bytes`
}

export const VIEW_KINDS: Record<string, string> = {
  main: 'Main view', projected: 'Projected view', pictorial: 'Pictorial view', section: 'Section', auxiliary: 'Auxiliary view', detail: 'Detail',
}

/** Places beside a view, in words. */
export const PLACES: Record<string, string> = {
  right: 'at the right', left: 'at the left', above: 'above', below: 'below',
  'above-right': 'above right', 'above-left': 'above left', 'below-right': 'below right', 'below-left': 'below left',
}
