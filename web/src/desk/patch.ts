// A drawing after the server's patch. What the patch does not touch stays the same object, so that nothing of it is drawn anew.
import { applyPatch, type Operation } from 'fast-json-patch'
import { produce, setAutoFreeze } from 'immer'

setAutoFreeze(false) // the document is only read, but by code that may not know that

export function patched<T extends object>(document: T, patch: unknown[]): T {
  return produce(document, (draft) => {
    applyPatch(draft, patch as Operation[], false, true)
  })
}
