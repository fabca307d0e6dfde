// What the server says of each kind of annotation: its name and the fields that can be set. Asked for once.
import { shallowRef } from 'vue'
import { api, data, type Schemas } from '@/api/client'

const kinds = shallowRef<Schemas['KindForm'][] | null>(null)
let asking: Promise<void> | null = null

/** The form of a kind; undefined until the server has answered. */
export function formOf(kind: string): Schemas['KindForm'] | undefined {
  if (!kinds.value)
    asking ??= data(api.GET('/api/drawings/tools/kinds')).then(
      (found) => {
        kinds.value = found
      },
      () => {
        asking = null
      },
    )
  return kinds.value?.find((k) => k.kind === kind)
}
