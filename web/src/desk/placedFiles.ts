// Bringing in pictures and drawings of old: choosing a file, sending it, waiting until it is read.
import { Problem, ended, uploadTo } from '@/api/client'
import type { Settings } from './kinds/kind'
import { useDesk } from './store'

export const UNITS = ['mm', 'cm', 'm', 'in', 'ft']
export const PICTURES = '.png,.jpg,.jpeg,.svg'

/** A file the user chooses; null where none is. */
function chosen(accept: string): Promise<File | null> {
  return new Promise((done) => {
    const input = window.document.createElement('input')
    input.type = 'file'
    input.accept = accept
    input.dataset.test = 'placed-file'
    input.style.display = 'none'
    input.onchange = () => {
      done(input.files?.[0] ?? null)
      input.remove()
    }
    input.oncancel = () => {
      done(null)
      input.remove()
    }
    window.document.body.append(input)
    input.click()
  })
}

/** What is placed of a file: settings for its tool; null where the user goes back. */
export async function bringIn(accept: string): Promise<Settings | null> {
  const desk = useDesk()
  const file = await chosen(accept)
  if (!file || !desk.drawing) return null
  desk.problem = ''
  desk.said = `Reading ${file.name} …`
  try {
    const end = await ended(await uploadTo(`/api/drawings/${desk.drawing.id}/files`, file))
    if (end.state === 'failed') throw new Problem(end.text, 422)
    const r = end.result
    desk.said = `${file.name} read`
    if (r.kind === 'picture') return { file: r.file, name: r.name, wide: Number(r.wide), high: Number(r.high) }
    return { file: r.file, name: r.name, unit: r.unit || (await asked(r.name)) }
  } catch (error) {
    desk.said = ''
    desk.fail(error)
    return null
  }
}

/** The unit of a file that does not say it. */
async function asked(name: string): Promise<string> {
  const found = await ElMessageBox.prompt(`${name} does not say its units. What is one unit of it: ${UNITS.join(', ')}?`, 'Units of the file', {
    inputValue: 'mm', inputValidator: (v: string) => UNITS.includes(v.trim()) || `One of ${UNITS.join(', ')}.`, confirmButtonText: 'Go on', cancelButtonText: 'Millimeters',
  }).catch(() => ({ value: 'mm' }))
  return String(found.value).trim()
}
