// Characteristic numbers: their particulars are made from their data, and the inspection sheet lists them.
import type { KindOnDesk } from './kind'

export default { kinds: ['characteristic'], table: { name: 'Inspection sheet', address: 'inspection' } } satisfies KindOnDesk
