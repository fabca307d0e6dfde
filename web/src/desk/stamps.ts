// What a sheet's picture depends on, as a short word: a picture is fetched again only where the word has changed.
import type { DrawingState, Sheet } from '@/api/client'

export function stampOf(sheet: Sheet, document: DrawingState['document']): string {
  const place = document.sheets.findIndex((s) => s.id === sheet.id)
  const text = JSON.stringify([sheet, place, document.sheets.length, document.fields, document.projection, document.profile])
  let hash = 0
  for (let i = 0; i < text.length; i++) hash = (Math.imul(hash, 31) + text.charCodeAt(i)) | 0
  return `${hash}.${text.length}`
}
