// Hole tables are made by the Sizes stage's own tool; how many holes there are is said in a panel of their own.
import HoleTableParticulars from '../HoleTableParticulars.vue'
import type { KindOnDesk } from './kind'

export default { kinds: ['hole_table'], panel: HoleTableParticulars } satisfies KindOnDesk
