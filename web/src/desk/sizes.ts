// Which annotations are sizes.
import type { Annotation } from '@/api/client'

export const SIZE_KINDS = ['linear', 'diameter', 'radius', 'angle', 'arc_length', 'chamfer', 'ordinate'] as const
export type Size = Extract<Annotation, { kind: (typeof SIZE_KINDS)[number] }>
export const isSize = (a: Annotation | undefined): a is Size => !!a && (SIZE_KINDS as readonly string[]).includes(a.kind)
