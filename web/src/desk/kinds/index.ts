// All kinds on the desk: every file of this folder that gives one.
import type { KindOnDesk, PickTool } from './kind'

const files = import.meta.glob<{ default?: KindOnDesk }>(['./*.ts', '!./index.ts', '!./kind.ts', '!./*.test.ts'], { eager: true })
export const KINDS: KindOnDesk[] = Object.values(files).flatMap((f) => (f.default ? [f.default] : []))
export const PICK_TOOLS: PickTool[] = KINDS.flatMap((k) => k.tools ?? [])
export const kindOnDesk = (kind: string): KindOnDesk | undefined => KINDS.find((k) => k.kinds.includes(kind))
